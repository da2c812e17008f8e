"use client";

import { X, Copy } from "lucide-react";
import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  useTransition,
  type ReactNode,
} from "react";
import { quantityText } from "@/core/quantity/format";
import { FigureText, type FigureData } from "./FigureText";
import { Formula } from "./Formula";
import { LaneMark } from "./LaneMark";
import { usePreferences } from "./preferences";
import { sourceKey, type Source } from "@/core/uncertainty/source";
import { percent, sourceGroupWords } from "@/words/sources";
import { Button } from "./Button";

/** What the panel shows; made by the server on demand. */
export interface WorkingData {
  title: string;
  lanes: string[];
  figure: FigureData;
  coverage: number;
  dof: number | null;
  formula: string[];
  inputs: { symbol: string; figure: FigureData; from: string }[];
  budget: { sources: Source[]; share: number; contribution: number }[];
  layers: string[];
  note: string | null;
}

interface WorkingState {
  open: string | null;
  /** @param local makes the working here instead of asking the server */
  show(ref: unknown, opener: HTMLElement, local?: () => WorkingData): void;
  /** A figure whose working stands open has moved. */
  refresh(data: WorkingData): void;
}

const WorkingContext = createContext<WorkingState | null>(null);

type Loaded = { state: "loading" } | { state: "ready"; data: WorkingData } | { state: "gone" };

/** Gives every figure below it a working to open, in one panel at the side. */
export function WorkingProvider({
  load,
  children,
}: {
  load: (ref: never) => Promise<WorkingData | null>;
  children: ReactNode;
}) {
  const [open, setOpen] = useState<string | null>(null);
  const [loaded, setLoaded] = useState<Loaded>({ state: "loading" });
  const [, startTransition] = useTransition();
  const opener = useRef<HTMLElement | null>(null);

  const close = useCallback(() => {
    setOpen(null);
    opener.current?.focus();
  }, []);

  const refresh = useCallback(
    (data: WorkingData) => setLoaded((old) => (old.state === "ready" ? { state: "ready", data } : old)),
    [],
  );

  const show = useCallback(
    (ref: unknown, element: HTMLElement, local?: () => WorkingData) => {
      const key = JSON.stringify(ref);
      opener.current = element;
      setOpen((current) => (current === key ? null : key));
      if (local) {
        setLoaded({ state: "ready", data: local() });
        return;
      }
      setLoaded({ state: "loading" });
      startTransition(async () => {
        try {
          const data = await load(ref as never);
          setLoaded(data ? { state: "ready", data } : { state: "gone" });
        } catch {
          setLoaded({ state: "gone" });
        }
      });
    },
    [load],
  );

  useEffect(() => {
    if (!open) return;
    const onKey = (e: KeyboardEvent) => {
      if (e.key === "Escape") close();
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [open, close]);

  const value = useMemo(() => ({ open, show, refresh }), [open, show, refresh]);
  return (
    <WorkingContext.Provider value={value}>
      <div className={open ? "lg:pr-[344px] print:pr-0" : ""}>{children}</div>
      {open && <Panel loaded={loaded} onClose={close} />}
    </WorkingContext.Provider>
  );
}

/** A figure that opens its working. Outside a provider it is plain text. */
export function Figure({
  figure,
  opens,
  signed,
  figures,
  local,
}: {
  figure: FigureData;
  opens?: unknown;
  signed?: boolean;
  figures?: number;
  local?: () => WorkingData;
}) {
  const context = useContext(WorkingContext);
  const { system } = usePreferences();
  const key = opens === undefined ? null : JSON.stringify(opens);
  const isOpen = key !== null && context?.open === key;
  const refresh = context?.refresh;
  // A predicted figure moves while its working stands open; the working moves with it.
  useEffect(() => {
    if (isOpen && local && refresh) refresh(local());
    // local is made anew at each drawing; the working follows the figure itself.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isOpen, figure.si, figure.expanded]);
  if (!context || opens === undefined) return <FigureText figure={figure} signed={signed} figures={figures} />;
  const text = quantityText(figure.si, figure.quantity, { expanded: figure.expanded ?? undefined, system, signed });
  return (
    <button
      type="button"
      className="opens"
      aria-expanded={isOpen}
      aria-label={`${text}, open its working`}
      onClick={(e) => context.show(opens, e.currentTarget, local)}
    >
      <FigureText figure={figure} signed={signed} figures={figures} />
    </button>
  );
}

function Panel({ loaded, onClose }: { loaded: Loaded; onClose: () => void }) {
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  return (
    <aside
      aria-label="Working"
      className="fixed inset-y-0 right-0 z-30 w-[min(340px,100vw)] overflow-y-auto border-[1.5px] border-l-4 border-ink border-l-action bg-sheet px-4 py-3 print:static print:w-full"
    >
      <div className="flex items-center gap-3">
        <h2 ref={heading} tabIndex={-1} className="flex-1 text-[15px] font-[650] outline-none">
          Working
        </h2>
        {loaded.state === "ready" && <CopyButton data={loaded.data} />}
        <Button kind="plain" className="no-print" onClick={onClose}>
          <X size={15} aria-hidden /> Close
        </Button>
      </div>
      {loaded.state === "loading" && (
        <p className="mt-3 text-ink-2" role="status">
          Working it out …
        </p>
      )}
      {loaded.state === "gone" && (
        <p className="mt-3 text-doubt" role="alert">
          This figure is no longer there: its readings or settings have changed. Close this and reload the page.
        </p>
      )}
      {loaded.state === "ready" && <PanelBody data={loaded.data} />}
    </aside>
  );
}

function PanelBody({ data }: { data: WorkingData }) {
  const { system } = usePreferences();
  return (
    <div data-testid="working">
      <p className="mt-1 flex flex-wrap items-center gap-x-2">
        {data.title}{" "}
        {data.lanes.map((l) => (
          <LaneMark key={l} lane={l} size={12} />
        ))}
      </p>
      <p className="mt-1 text-[24px] leading-tight">
        <FigureText figure={data.figure} signed={data.figure.quantity === "heatFlux" && data.lanes.length > 1} />
      </p>
      <p className="side">
        95 % confidence: {data.coverage.toFixed(2)} × standard uncertainty
        {data.dof !== null && data.dof < 200 ? `, ${Math.floor(data.dof)} degrees of freedom` : ""}
      </p>
      <div className="my-2 border-y border-hair py-1 leading-7">
        {data.formula.map((f) => (
          <div key={f}>
            <Formula text={f} />
          </div>
        ))}
      </div>
      <table className="w-full border-collapse">
        <caption className="sr-only">Values put in</caption>
        <tbody>
          {data.inputs.map((input, i) => (
            <tr key={i} className="border-b border-hair align-baseline">
              <th scope="row" className="py-1 pr-2 text-left font-normal">
                <Formula text={input.symbol} />
              </th>
              <td className="py-1 text-right">
                <FigureText figure={input.figure} />
                <div className="side text-right">{input.from}</div>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <h3 className="mt-3 border-b-[1.5px] border-ink pb-0.5 font-[650]">
        Where the ± comes from <span className="side font-normal">share of variance</span>
      </h3>
      <ul>
        {data.budget.map(({ sources, share, contribution }) => {
          const { label, detail } = sourceGroupWords(sources);
          return (
            <li
              key={sourceKey(sources[0])}
              className="grid grid-cols-[1fr_56px_40px] items-center gap-2 border-b border-hair py-1"
            >
              <span className="leading-tight">
                {label}
                <small className="side block">
                  {detail}
                  {detail ? ", " : ""}
                  <span className="whitespace-nowrap">{`± ${quantityText(0, data.figure.quantity === "temperature" ? "temperatureDifference" : data.figure.quantity, { expanded: Math.abs(contribution) * 2, system }).replace(/^.*± /, "")}`}</span>
                </small>
              </span>
              <span aria-hidden>
                <i className="block h-[9px] bg-ink" style={{ width: Math.max(1.5, share * 56) }} />
              </span>
              <b className="text-right">{percent(share)}</b>
            </li>
          );
        })}
      </ul>
      {data.note && <p className="mt-2">{data.note}</p>}
      {data.layers.length > 0 && (
        <p className="side mt-2">
          <b>Layers:</b> {data.layers.join(", ")}.
        </p>
      )}
    </div>
  );
}

function CopyButton({ data }: { data: WorkingData }) {
  const { system } = usePreferences();
  const [copied, setCopied] = useState(false);
  const text = () =>
    [
      `${data.title} ${data.lanes.join(", ")}`,
      quantityText(data.figure.si, data.figure.quantity, { expanded: data.figure.expanded ?? undefined, system }) +
        " (95 %)",
      ...data.formula,
      ...data.inputs.map(
        (i) =>
          `${i.symbol} = ${quantityText(i.figure.si, i.figure.quantity, { expanded: i.figure.expanded ?? undefined, system })} (${i.from})`,
      ),
      ...data.budget.map((b) => `${sourceGroupWords(b.sources).label}: ${percent(b.share)}`),
      `Layers: ${data.layers.join(", ")}`,
    ].join("\n");
  return (
    <Button
      kind="plain"
      className="no-print"
      onClick={() =>
        void navigator.clipboard.writeText(text()).then(
          () => setCopied(true),
          () => setCopied(false),
        )
      }
    >
      <Copy size={14} aria-hidden /> <span aria-live="polite">{copied ? "Copied" : "Copy"}</span>
    </Button>
  );
}
