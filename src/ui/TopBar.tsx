"use client";

import { Calculator, Menu, Moon, Sun, Ruler, UserRound } from "lucide-react";
import dynamic from "next/dynamic";
import Link from "next/link";
import { usePathname, useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { usePreferences } from "./preferences";
import { Button } from "./Button";

// Dialogs bring their library when first opened.
const KeySheet = dynamic(() => import("./KeySheet").then((m) => m.KeySheet), { ssr: false });

const PAGES: readonly { name: string; href: string; owners?: boolean }[] = [
  { name: "Bench", href: "/" },
  { name: "Import", href: "/import" },
  { name: "Devices", href: "/devices" },
  { name: "Rig", href: "/rig" },
  { name: "Materials", href: "/materials" },
  { name: "Site", href: "/site" },
  { name: "Network", href: "/network", owners: true },
];
const YEAR = 365 * 24 * 3600;
const BRAND = "flex items-center gap-2 text-[17px] font-bold [font-stretch:106%]";

/** A year-long choice that the server reads with the next page. */
function remember(name: string, value: string): void {
  document.cookie = `${name}=${value}; path=/; max-age=${YEAR}; samesite=strict`;
}

interface Props {
  theme: "daylight" | "evening";
  /** Without the right to them (null: a viewer, or nobody), ways to other pages are neither shown nor asked for beforehand. */
  role: "owner" | "hand" | null;
  /** Bravel is open to a network: who is here signed in. */
  signedIn: boolean;
}

/** The ways to every page, and the choices of this browser. */
export function TopBar({ theme, role, signedIn }: Props) {
  const path = usePathname();
  const router = useRouter();
  const { system } = usePreferences();
  const [evening, setEvening] = useState(theme === "evening");
  const [keys, setKeys] = useState(false);
  /** The page on which the menu was opened. */
  const [menu, setMenu] = useState<string | null>(null);

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest("input, textarea, select, [contenteditable]");
      if (e.key === "?" && !typing) setKeys(true);
      if (!role || e.altKey || e.ctrlKey || e.metaKey || typing) return;
      if (e.key === "b") router.push("/");
      if (e.key === "i") router.push("/import");
      if (e.key === "m") router.push("/materials");
      if (e.key === "s") router.push("/site");
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [router, role]);

  const toggleTheme = () => {
    const next = evening ? "daylight" : "evening";
    document.documentElement.dataset.theme = next;
    remember("bravel-theme", next);
    setEvening(!evening);
    // Canvas charts read their colours when drawn; they listen for this.
    window.dispatchEvent(new Event("bravel-theme"));
  };
  const toggleUnits = () => {
    remember("bravel-units", system === "metric" ? "us" : "metric");
    router.refresh();
  };

  // What the palette does here, with the choices as they stand now.
  useEffect(() => {
    const heard: [string, () => void][] = [
      ["bravel-keys", () => setKeys(true)],
      ["bravel-toggle-theme", toggleTheme],
      ["bravel-toggle-units", toggleUnits],
    ];
    for (const [name, does] of heard) window.addEventListener(name, does);
    return () => heard.forEach(([name, does]) => window.removeEventListener(name, does));
  });

  return (
    <header className="no-print relative flex min-h-9 flex-wrap items-center gap-x-4 px-4 text-[13.5px] sm:px-6">
      {role ? (
        <Link href="/" className={BRAND}>
          <Brand />
        </Link>
      ) : (
        <span className={BRAND}>
          <Brand />
        </span>
      )}
      <span className="flex-1 sm:hidden" />
      <Button
        kind="plain"
        className="min-h-9 sm:hidden"
        aria-expanded={menu === path}
        aria-controls="menu"
        onClick={() => setMenu(menu === path ? null : path)}
      >
        <Menu size={16} aria-hidden /> Menu
      </Button>
      {/* On a phone all this opens below the bar, and closes with the next page. */}
      <div
        id="menu"
        className={`sm:contents ${menu === path ? "max-sm:absolute max-sm:inset-x-0 max-sm:top-9 max-sm:z-40 max-sm:flex max-sm:flex-wrap max-sm:gap-x-4 max-sm:border-y max-sm:border-rule max-sm:bg-sheet max-sm:px-4 max-sm:py-2" : "max-sm:hidden"}`}
      >
        {role && <Ways path={path} role={role} />}
        <span className="flex-1" />
        <Button
          kind="plain"
          onClick={toggleUnits}
          aria-label={`Units: ${system === "metric" ? "metric; change to US" : "US; change to metric"}`}
        >
          <Ruler size={14} aria-hidden /> {system === "metric" ? "Metric" : "US units"}
        </Button>
        {role && (
          <>
            <Button kind="plain" onClick={() => window.dispatchEvent(new Event("bravel-tools"))}>
              <Calculator size={14} aria-hidden /> Tools
            </Button>
            <Button
              kind="plain"
              className="max-sm:hidden"
              onClick={() => window.dispatchEvent(new Event("bravel-palette"))}
            >
              Go to <kbd className="rounded-sm border border-rule px-1 font-sans text-[12px]">Ctrl K</kbd>
            </Button>
          </>
        )}
        <Button kind="plain" className="max-sm:hidden" onClick={() => setKeys(true)}>
          Keys <kbd className="rounded-sm border border-rule px-1 font-sans text-[12px]">?</kbd>
        </Button>
        <Button kind="plain" onClick={toggleTheme}>
          {evening ? <Sun size={14} aria-hidden /> : <Moon size={14} aria-hidden />} {evening ? "Daylight" : "Evening"}
        </Button>
        {role && signedIn && (
          <Link href="/account" className="flex h-9 items-center gap-1 text-ink-2 hover:text-ink">
            <UserRound size={14} aria-hidden /> Account
          </Link>
        )}
      </div>
      {keys && <KeySheet open onOpenChange={setKeys} />}
    </header>
  );
}

function Brand() {
  return (
    <>
      <svg width="26" height="18" viewBox="0 0 26 18" aria-hidden="true">
        <path d="M1 16.5h24" stroke="currentColor" strokeWidth="1.6" />
        <path d="M3 16.5A10 10 0 0 1 23 16.5" fill="none" stroke="currentColor" strokeWidth="1.6" />
        <circle cx="17.6" cy="7.7" r="3.6" fill="var(--sun)" stroke="currentColor" strokeWidth="1.3" />
        <path d="M5 16.5v-3M9 16.5v-2M13 16.5v-3M17 16.5v-2M21 16.5v-3" stroke="currentColor" strokeWidth="1.2" />
      </svg>
      Bravel
    </>
  );
}

function Ways({ path, role }: { path: string; role: "owner" | "hand" }) {
  return (
    <nav aria-label="Main" className="flex gap-4 max-sm:basis-full max-sm:flex-wrap">
      {PAGES.filter((p) => role === "owner" || !p.owners).map((p) => {
        const on = p.href === "/" ? path === "/" || path.startsWith("/experiments") : path.startsWith(p.href);
        return (
          <Link
            key={p.href}
            href={p.href}
            aria-current={on ? "page" : undefined}
            className={`flex h-9 items-center ${on ? "font-[650] shadow-[inset_0_-3px_0_var(--ink)]" : "text-ink-2 hover:text-ink"}`}
          >
            {p.name}
          </Link>
        );
      })}
    </nav>
  );
}
