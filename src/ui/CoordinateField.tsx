"use client";

import { useId, useState } from "react";
import { isZone } from "@/core/log/zone";
import { formatCoordinates, parseCoordinates, swapSuspected } from "@/core/site/coordinates";
import { coordinateWords } from "@/words/plan";
import { useValidity } from "./useValidity";
import { Problem } from "./Problem";
import { Button } from "./Button";

export interface Coordinates {
  latitude: number;
  longitude: number;
}

/** Not said yet: no place is assumed. */
const unsaid = ({ latitude, longitude }: Coordinates) => Number.isNaN(latitude + longitude);
const plain = ({ latitude, longitude }: Coordinates) =>
  `${Number(latitude.toFixed(5))}, ${Number(longitude.toFixed(5))}`;

/** Coordinates in any common notation; what cannot be is said, and an exchange of the two is asked about, not guessed. */
export function CoordinateField({
  value,
  zone,
  atMs = Date.UTC(2026, 0, 1),
  onChange,
}: {
  /** NaN: nobody has said yet. */
  value: Coordinates;
  zone: string;
  atMs?: number;
  onChange: (value: Coordinates) => void;
}) {
  const id = useId();
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [asked, setAsked] = useState<Coordinates | null>(null);
  const field = useValidity<HTMLInputElement>(problem ?? (asked && "Say which of the two is meant."));
  const take = (c: Coordinates) => {
    setDraft(null);
    setProblem(null);
    setAsked(null);
    if (c.latitude !== value.latitude || c.longitude !== value.longitude) onChange(c);
  };
  const commit = (text: string) => {
    const read = parseCoordinates(text);
    if (!read.ok) {
      setAsked(null);
      return setProblem(coordinateWords(read.problem));
    }
    if (isZone(zone) && swapSuspected(read.latitude, read.longitude, zone, atMs)) {
      setProblem(null);
      return setAsked({ latitude: read.latitude, longitude: read.longitude });
    }
    take(read);
  };
  return (
    <div>
      <label htmlFor={id} className="block text-[13px] font-semibold">
        Coordinates
      </label>
      <input
        id={id}
        ref={field}
        className="field mt-0.5"
        autoComplete="off"
        value={draft ?? (unsaid(value) ? "" : plain(value))}
        aria-invalid={problem !== null || asked !== null}
        aria-describedby={`${id}-note`}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={(e) => draft !== null && commit(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && commit(e.currentTarget.value)}
      />
      <div id={`${id}-note`}>
        <Problem className="text-[12.5px]">{problem}</Problem>
        {asked && (
          <div role="alert" className="text-[12.5px] text-doubt">
            <p className="font-semibold">
              {formatCoordinates(asked.latitude, asked.longitude)} lies far from the clock of {zone}; exchanged, it does
              not.
            </p>
            <p className="flex gap-2 pt-1">
              <Button
                className="min-h-[26px]"
                onClick={() => take({ latitude: asked.longitude, longitude: asked.latitude })}
              >
                Exchange them
              </Button>
              <Button kind="plain" className="min-h-[26px]" onClick={() => take(asked)}>
                Keep as typed
              </Button>
            </p>
          </div>
        )}
        {!problem && !asked && (
          <p className="side">
            {unsaid(value) ? "46.31 N, 9.05 E" : formatCoordinates(value.latitude, value.longitude)}
          </p>
        )}
      </div>
    </div>
  );
}
