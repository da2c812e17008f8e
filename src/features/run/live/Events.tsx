"use client";

import {
  ArrowLeftRight,
  Camera,
  Cloud,
  DoorOpen,
  Fan,
  FlipHorizontal2,
  Flame,
  GlassWater,
  Snowflake,
  Sparkles,
  Thermometer,
  type LucideIcon,
} from "lucide-react";
import { useEffect, useState, useSyncExternalStore } from "react";
import { toast } from "@/ui/toast";
import type { ExperimentHead } from "@/core/experiment/types";
import type { EventKind } from "@/core/log/eventKind";
import type { EventInput } from "@/core/experiment/schema/event";
import type { LiveView } from "@/services/live/view";
import { LaneMark } from "@/ui/LaneMark";
import { EVENT_WORDS } from "@/words/live";
import { timeOfDay } from "@/words/times";
import { EventList } from "./EventList";
import { onOutbox, put, sendWaiting, takeAway, waiting } from "./outbox";
import { SpotForm } from "./SpotForm";
import { benchNow } from "@/features/experiment/useLive";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

const BUTTONS: readonly [EventKind, LucideIcon][] = [
  ["cloud", Cloud],
  ["door", DoorOpen],
  ["probeMoved", Thermometer],
  ["fanChanged", Fan],
  ["swap", ArrowLeftRight],
  ["note", Camera],
  ["coverCleaned", Sparkles],
  ["snow", Snowflake],
  ["mirror", FlipHorizontal2],
  ["filled", GlassWater],
  ["stillBegin", Flame],
];

/** Also where the page comes over a plain network address, on which browsers give no UUIDs. */
const newKey = (): string =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, "0")).join("");

let snapshot: { text: string; list: ReturnType<typeof waiting> } = { text: "", list: [] };
/** The same list as long as it holds the same. */
function outbox(): ReturnType<typeof waiting> {
  const list = waiting();
  const text = JSON.stringify(list);
  if (text !== snapshot.text) snapshot = { text, list };
  return snapshot.list;
}
const NONE: ReturnType<typeof waiting> = [];

/** What waits here, sent as soon as there is a link. */
function useOutbox() {
  useEffect(() => {
    void sendWaiting();
    const timer = setInterval(() => void sendWaiting(), 5000);
    window.addEventListener("online", sendWaiting);
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", sendWaiting);
    };
  }, []);
  return useSyncExternalStore(onOutbox, outbox, () => NONE);
}

/** Marks with one thumb: stamped when pressed, kept without a link and sent later in order. */
export function Events({ head, view }: { head: ExperimentHead; view: LiveView }) {
  const { zone } = head.site;
  const [lane, setLane] = useState<string | null>(null);
  const [swapping, setSwapping] = useState(false);
  const left = useOutbox();
  const mark = (part: Omit<EventInput, "key" | "atMs">) => {
    const atMs = Math.round(benchNow(view));
    put({ experimentId: view.experimentId, runId: view.runId, event: { key: newKey(), atMs, ...part } });
    toast(`${EVENT_WORDS[part.kind]} marked at ${timeOfDay(atMs, zone)}${part.lane ? ` on ${part.lane}` : ""}.`);
    void sendWaiting();
  };
  const letters = view.lanes.map((l) => l.letter);
  return (
    <section aria-labelledby="events" className="mt-4">
      <Head id="events" title="Mark what happens">
        {left.length > 0 && (
          <span className="font-semibold text-doubt" role="status">
            {keptWords(left)}
          </span>
        )}
      </Head>
      <LaneChoice letters={letters} lane={lane} onLane={setLane} atMs={view.nowMs} zone={zone} />
      <EventButtons
        still={view.stagnationMeant}
        onPress={(kind) => (kind === "swap" ? setSwapping(true) : mark({ kind, lane }))}
      />
      {swapping && (
        <SwapChoice
          letters={letters}
          onCancel={() => setSwapping(false)}
          onSwap={(lanes) => {
            mark({ kind: "swap", lanes });
            setSwapping(false);
          }}
        />
      )}
      <SpotForm view={view} lane={lane ?? letters[0]} onKeep={(spot, of) => mark({ kind: "spot", lane: of, spot })} />
      <WaitingList left={left} zone={zone} />
      <EventList head={head} view={view} />
    </section>
  );
}

function EventButtons({ still, onPress }: { still: boolean; onPress: (kind: EventKind) => void }) {
  return (
    <div className="grid grid-cols-3 border-l border-t border-rule sm:grid-cols-6" role="group" aria-label="Events">
      {BUTTONS.map(([shown, Icon]) => {
        const kind = shown === "stillBegin" && still ? "stillEnd" : shown;
        return (
          <button
            key={shown}
            type="button"
            className="flex min-h-[64px] flex-col items-center justify-center gap-1 border-b border-r border-rule bg-sheet px-1 text-[14px] font-semibold leading-tight hover:bg-action-wash"
            onClick={() => onPress(kind)}
          >
            <Icon size={20} aria-hidden />
            {EVENT_WORDS[kind]}
          </button>
        );
      })}
    </div>
  );
}

/** What waits goes by itself; what was refused does not. */
function keptWords(left: ReturnType<typeof waiting>): string {
  const refused = left.filter((w) => w.refused).length;
  const waits = left.length - refused;
  return [
    ...(waits ? [`${waits} kept here, waiting to be sent`] : []),
    ...(refused ? [`${refused} refused, see below`] : []),
  ].join("; ");
}

const WAITS_WORDS = {
  link: "waits for a link",
  signIn: "kept here; it goes once you have signed in again",
  server: "kept here; Bravel or its database does not answer yet",
};

function WaitingList({ left, zone }: { left: ReturnType<typeof waiting>; zone: string }) {
  return left.map((w) => (
    <p key={w.event.key} className="flex flex-wrap items-center gap-2 border-b border-hair py-1 text-[13.5px]">
      {EVENT_WORDS[w.event.kind]}, {timeOfDay(w.event.atMs, zone)}:{" "}
      {w.refused ? <span className="font-semibold text-danger">{w.refused}</span> : WAITS_WORDS[w.waits ?? "link"]}
      {w.refused && (
        <Button kind="plain" onClick={() => takeAway(w.event.key)}>
          Take away
        </Button>
      )}
    </p>
  ));
}

/** Which lane a mark is for is said before it is pressed. */
function LaneChoice({
  letters,
  lane,
  onLane,
  atMs,
  zone,
}: {
  letters: readonly string[];
  lane: string | null;
  onLane: (lane: string | null) => void;
  atMs: number;
  zone: string;
}) {
  return (
    <div role="radiogroup" aria-label="Lane that is marked" className="flex flex-wrap items-center gap-1 py-2">
      <span className="mr-2 font-semibold max-sm:basis-full">Mark {timeOfDay(atMs, zone)} on</span>
      {[null, ...letters].map((l) => (
        <button
          key={l ?? "all"}
          type="button"
          role="radio"
          aria-checked={lane === l}
          className={`inline-flex min-h-10 items-center border-[1.5px] px-3 font-semibold ${lane === l ? "border-ink bg-well" : "border-rule"}`}
          onClick={() => onLane(l)}
        >
          {l ? <LaneMark lane={l} /> : "All lanes"}
        </button>
      ))}
    </div>
  );
}

function SwapChoice({
  letters,
  onSwap,
  onCancel,
}: {
  letters: readonly string[];
  onSwap: (lanes: [string, string]) => void;
  onCancel: () => void;
}) {
  const [pair, setPair] = useState<[string, string]>([letters[0], letters[1] ?? letters[0]]);
  const choose = (i: 0 | 1, label: string) => (
    <select
      className="field min-h-11 w-20"
      aria-label={label}
      value={pair[i]}
      onChange={(e) => setPair(i === 0 ? [e.target.value, pair[1]] : [pair[0], e.target.value])}
    >
      {letters.map((l) => (
        <option key={l}>{l}</option>
      ))}
    </select>
  );
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2" role="group" aria-label="Swap">
      {choose(0, "Box that moved")} and {choose(1, "Box it changed places with")} have changed places
      <Button kind="main" className="min-h-11" disabled={pair[0] === pair[1]} onClick={() => onSwap(pair)}>
        Mark the swap
      </Button>
      <Button kind="plain" className="min-h-11" onClick={onCancel}>
        Cancel
      </Button>
    </div>
  );
}
