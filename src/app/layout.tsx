import type { Metadata, Viewport } from "next";
import { cookies, headers } from "next/headers";
import { PaletteKey } from "@/features/palette/PaletteKey";
import { Tools } from "@/features/tools/Tools";
import { askerOf } from "@/services/web/requestGuard";
import { isGuarded } from "@/services/web/session";
import { Offline } from "@/ui/Offline";
import { PreferencesProvider } from "@/ui/preferences";
import { Toasts } from "@/ui/Toasts";
import { TopBar } from "@/ui/TopBar";
import "./globals.css";

export const metadata: Metadata = {
  title: { default: "Bravel", template: "%s · Bravel" },
  description: "A workbench for people who build solar heating collectors and test them side by side",
};
export const viewport: Viewport = { width: "device-width", initialScale: 1 };

export default async function Layout({ children }: { children: React.ReactNode }) {
  const jar = await cookies();
  const theme = jar.get("bravel-theme")?.value === "evening" ? "evening" : "daylight";
  const system = jar.get("bravel-units")?.value === "us" ? "us" : "metric";
  const asker = await askerOf(await headers());
  const works = asker && asker.role !== "viewer" ? asker : null;
  return (
    <html lang="en" data-theme={theme} suppressHydrationWarning>
      <body>
        <PreferencesProvider system={system}>
          <a
            href="#main"
            className="sr-only focus:not-sr-only focus:absolute focus:left-2 focus:top-2 focus:z-50 focus:bg-sheet focus:p-2"
          >
            Skip to the content
          </a>
          <TopBar theme={theme} role={works?.role ?? null} signedIn={isGuarded(process.env)} />
          {works && (
            <>
              <Tools />
              <PaletteKey />
            </>
          )}
          <Offline />
          <main id="main">{children}</main>
          <Toasts />
        </PreferencesProvider>
      </body>
    </html>
  );
}
