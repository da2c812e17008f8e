"use client";

import { useId } from "react";
import type { LogAnswers } from "@/core/log/question";
import type { ImportAsks } from "@/services/import/importRequest";
import { usePreferences } from "@/ui/preferences";
import { implausibleWords } from "@/words/implausible";
import { logQuestionWords } from "@/words/importing";
import { Button } from "@/ui/Button";

interface AskedProps {
  asks: ImportAsks;
  answers: (fileId: number) => LogAnswers;
  accepted: readonly string[];
  onAnswer: (fileId: number, answers: LogAnswers) => void;
  onAccept: (key: string, right: boolean) => void;
  /** Moves a file's clock; the file by its place in the list. */
  onClock?: (file: number, clock: { offsetMs: number; standardMs: number }) => void;
}

/** What an import asks before it keeps anything: questions about the files, and what physics does not allow. */
export function Asked({ asks, answers, accepted, onAnswer, onAccept, onClock }: AskedProps) {
  return (
    <section
      role="alert"
      aria-label="Before it is imported"
      className="mt-3 max-w-3xl border-l-[3px] border-doubt pl-3"
    >
      <h3 className="text-[15px] font-[650]">Nothing is kept yet: say what these readings mean</h3>
      {asks.files.flatMap(({ fileId, name, questions }) =>
        questions.map((q) => {
          const words = logQuestionWords(q);
          return (
            <Ask
              key={`${fileId} ${q.kind}`}
              text={`${name}: ${words.question}`}
              choices={words.choices}
              value={answers(fileId)[q.kind]}
              onChange={(value) => onAnswer(fileId, { ...answers(fileId), [q.kind]: value })}
            />
          );
        }),
      )}
      {asks.implausible.map(({ key, found }) => (
        <Odd
          key={key}
          found={found}
          zone={asks.zone}
          accepted={accepted.includes(key)}
          onAccept={(right) => onAccept(key, right)}
          onClock={onClock}
        />
      ))}
      <p className="side mt-2">
        Correct units, columns or the bench above, or answer here; then import again. Your files and settings stay.
      </p>
    </section>
  );
}

/** Something that cannot be: what it is, its likely causes, and that it is right all the same. */
function Odd({
  found,
  zone,
  accepted,
  onAccept,
  onClock,
}: {
  found: ImportAsks["implausible"][number]["found"];
  zone: string;
  accepted: boolean;
  onAccept: (right: boolean) => void;
  onClock: AskedProps["onClock"];
}) {
  const { system } = usePreferences();
  const words = implausibleWords(found, { zone, system });
  return (
    <div className="mt-2">
      <p>
        <b className="font-semibold">{words.title}.</b> {words.detail} {words.remedy}
      </p>
      {found.kind === "clocksApart" && onClock && (
        <Button
          className="mt-1"
          onClick={() => onClock(found.streams[1], { offsetMs: found.slowMs, standardMs: found.standardMs })}
        >
          Move the second logger’s clock
        </Button>
      )}
      <label className="mt-1 flex items-center gap-2">
        <input type="checkbox" checked={accepted} onChange={(e) => onAccept(e.target.checked)} />
        It is right all the same: keep it, with this doubt
      </label>
    </div>
  );
}

function Ask({
  text,
  choices,
  value,
  onChange,
}: {
  text: string;
  choices: readonly { value: string; words: string }[];
  value: string | undefined;
  onChange: (value: string) => void;
}) {
  const group = useId();
  return (
    <fieldset className="mt-2">
      <legend>{text}</legend>
      {choices.map((c) => (
        <label key={c.value} className="mt-1 flex items-center gap-2">
          <input type="radio" name={group} checked={value === c.value} onChange={() => onChange(c.value)} />
          {c.words}
        </label>
      ))}
    </fieldset>
  );
}
