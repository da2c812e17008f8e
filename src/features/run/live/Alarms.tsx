"use client";

import { Bell, BellOff, TriangleAlert } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { isDanger } from "@/core/live/alarms";
import type { LiveView } from "@/services/live/view";
import { usePreferences } from "@/ui/preferences";
import { useAct } from "@/ui/useAct";
import { alarmAdvice, alarmWords } from "@/words/alarms";
import { timeOfDay } from "@/words/times";
import { acknowledgeAlarm } from "./actions";
import { benchNow } from "@/features/experiment/useLive";
import { Button } from "@/ui/Button";

/** What is wrong now, the most urgent first, each with what to do: people, fire, box, data. */
export function Alarms({ view, zone }: { view: LiveView; zone: string }) {
  const now = view.alarms.filter((a) => a.holds);
  return (
    <section aria-label="Alarms" className="mt-2">
      <div role="alert" aria-atomic="false">
        {now.map((a) => (
          <AlarmBlock key={a.id} logged={a} view={view} zone={zone} />
        ))}
      </div>
    </section>
  );
}

type Logged = LiveView["alarms"][number];

function AlarmBlock({ logged, view, zone }: { logged: Logged; view: LiveView; zone: string }) {
  const { system } = usePreferences();
  const { busy, act } = useAct();
  const danger = isDanger(logged.alarm);
  const seen = logged.acknowledgedAt;
  return (
    <div
      className={`mb-2 border-l-4 px-3 py-1.5 ${danger ? "border-danger bg-danger-fill" : "border-doubt-line bg-doubt-fill/40"}`}
    >
      <p className={`flex flex-wrap items-center gap-x-2 font-[650] ${danger ? "text-danger" : "text-doubt"}`}>
        <TriangleAlert size={16} aria-hidden /> {alarmWords(logged.alarm, system)}
        <span className="side">since {timeOfDay(logged.beganAt, zone)}</span>
        {seen === null ? (
          <Button
            className="ml-auto min-h-9"
            disabled={busy}
            onClick={() => act(() => acknowledgeAlarm(view.experimentId, view.runId, logged.id, benchNow(view)))}
          >
            I have seen it
          </Button>
        ) : (
          <span className="side ml-auto">seen {timeOfDay(seen, zone)}</span>
        )}
      </p>
      <Advice steps={alarmAdvice(logged.alarm)} numbered={danger} />
    </div>
  );
}

/** Where people or box are in danger the order is told by numbers; else a line is enough. */
const Advice = ({ steps, numbered }: { steps: readonly string[]; numbered: boolean }) =>
  numbered ? (
    <ol className="mt-1 list-decimal pl-5 text-[13.5px]">
      {steps.map((s) => (
        <li key={s}>{s}</li>
      ))}
    </ol>
  ) : (
    <p className="text-[13.5px]">{steps.join(" ")}</p>
  );

/** Sound, notification, and what is over. */
export function AlarmTools({ view, zone }: { view: LiveView; zone: string }) {
  const { system } = usePreferences();
  const past = view.alarms.filter((a) => !a.holds);
  const loud = view.alarms.filter((a) => a.holds && a.acknowledgedAt === null && isDanger(a.alarm));
  const { sound, setSound, allowed, allow } = useLoud(
    loud.map((a) => a.id),
    loud[0] ? alarmWords(loud[0].alarm, system) : "",
  );
  return (
    <div className="flex flex-wrap items-center gap-x-3">
      <Button kind="plain" aria-pressed={sound} onClick={() => setSound(!sound)}>
        {sound ? <Bell size={14} aria-hidden /> : <BellOff size={14} aria-hidden />} Alarm sound {sound ? "on" : "off"}
      </Button>
      {allowed === "default" && (
        <Button kind="plain" onClick={allow}>
          Tell me also outside this page
        </Button>
      )}
      {past.length > 0 && <PastAlarms {...{ past, view, zone }} />}
    </div>
  );
}

function PastAlarms({ past, view, zone }: { past: readonly Logged[]; view: LiveView; zone: string }) {
  const { system } = usePreferences();
  return (
    <details className="text-[13.5px]">
      <summary className="cursor-pointer font-semibold text-action">Alarms that are over ({past.length})</summary>
      <ul>
        {past.map((a) => (
          <li key={a.id}>
            {timeOfDay(a.beganAt, zone)} to {timeOfDay(a.endedAt ?? benchNow(view), zone)}, over: “
            {alarmWords(a.alarm, system)}”{a.acknowledgedAt === null ? " Nobody saw it." : ""}
          </li>
        ))}
      </ul>
    </details>
  );
}

const SOUND = "bravel-alarm-sound";

/** Sound and notification for alarms nobody has seen. A browser lets a page sound only after it was pressed once. */
function useLoud(ids: readonly number[], words: string) {
  const [sound, keep] = useState(() => typeof localStorage === "undefined" || localStorage.getItem(SOUND) !== "off");
  const [allowed, setAllowed] = useState<NotificationPermission | "none">(() =>
    typeof Notification === "undefined" ? "none" : Notification.permission,
  );
  const told = useRef(new Set<number>());
  const key = ids.join();
  useEffect(() => {
    const fresh = key
      ? key
          .split(",")
          .map(Number)
          .filter((id) => !told.current.has(id))
      : [];
    if (!fresh.length) return;
    fresh.forEach((id) => told.current.add(id));
    if (allowed === "granted") new Notification("Bravel", { body: words, tag: "bravel-alarm" });
  }, [key, allowed, words]);
  useEffect(() => {
    if (!key || !sound) return;
    beep();
    const timer = setInterval(beep, 4000);
    return () => clearInterval(timer);
  }, [key, sound]);
  return {
    sound,
    setSound: (on: boolean) => {
      localStorage.setItem(SOUND, on ? "on" : "off");
      keep(on);
    },
    allowed,
    allow: () => void Notification.requestPermission().then(setAllowed),
  };
}

let audio: AudioContext | null = null;

function beep(): void {
  try {
    audio ??= new AudioContext();
    for (const [at, hz] of [
      [0, 880],
      [0.25, 660],
    ]) {
      const tone = audio.createOscillator();
      const gain = audio.createGain();
      tone.frequency.value = hz;
      gain.gain.value = 0.2;
      tone.connect(gain).connect(audio.destination);
      tone.start(audio.currentTime + at);
      tone.stop(audio.currentTime + at + 0.2);
    }
  } catch {
    // Without sound the alarm stands on the page all the same.
  }
}
