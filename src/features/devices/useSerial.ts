"use client";

import { useEffect, useRef, useState } from "react";
import { guessLineFormat, type LineFormat } from "@/core/ingest/serialLine";
import { addDevice } from "./actions";
import { frameOf, framesWaiting, putFrame, readLines, sendFrames, type SerialPortLike } from "./serial";
import { SaidError, saidOf } from "@/ui/said";

const TOKEN = "bravel-serial-token";
const FORMAT = "bravel-serial-format";
const SHOWN = 6;
const LINE_LOST = "The serial line broke off. Check the cable, then connect again; what was sent is saved.";
const NOT_OPENED = "The port could not be opened. Close other programs that use it, then connect again.";

interface SerialApi {
  requestPort(): Promise<SerialPortLike>;
}
const api = (): SerialApi | null => (navigator as unknown as { serial?: SerialApi }).serial ?? null;

const keptFormat = (): LineFormat | null => {
  try {
    return JSON.parse(localStorage.getItem(FORMAT) ?? "null") as LineFormat | null;
  } catch {
    return null;
  }
};

export interface Serial {
  supported: boolean;
  open: boolean;
  lines: string[];
  format: LineFormat | null;
  waiting: number;
  fault: string | null;
  connect(baudRate: number): Promise<void>;
  disconnect(): void;
  setFormat(format: LineFormat): void;
}

/** A serial line of this computer as a device: read in the browser, sent like any other. */
export function useSerial(): Serial {
  const [supported, setSupported] = useState(true);
  const [open, setOpen] = useState(false);
  const [lines, setLines] = useState<string[]>([]);
  const [format, keepFormat] = useState<LineFormat | null>(null);
  const [waiting, setWaiting] = useState(0);
  const [fault, setFault] = useState<string | null>(null);
  const current = useRef<LineFormat | null>(null);
  const abort = useRef<AbortController | null>(null);
  useEffect(() => {
    // What the browser has and keeps is known only in the browser.
    const start = setTimeout(() => {
      setSupported(api() !== null);
      current.current = keptFormat();
      keepFormat(current.current);
    }, 0);
    const timer = setInterval(async () => {
      const left = await sendFrames(localStorage.getItem(TOKEN));
      if (left) setFault(left);
      setWaiting(framesWaiting());
    }, 1000);
    return () => {
      clearTimeout(start);
      clearInterval(timer);
      abort.current?.abort();
    };
  }, []);
  const setFormat = (next: LineFormat) => {
    current.current = next;
    localStorage.setItem(FORMAT, JSON.stringify(next));
    keepFormat(next);
  };
  const onLine = (line: string) => {
    setLines((l) => [...l.slice(1 - SHOWN), line]);
    if (!current.current) return setFormat(guessLineFormat([line]));
    const frame = frameOf(line, current.current, Date.now());
    if (typeof frame === "string") return setFault(frame);
    setFault(null);
    putFrame(frame);
  };
  const connect = async (baudRate: number) => {
    const port = await api()!.requestPort();
    await port.open({ baudRate });
    if (!localStorage.getItem(TOKEN)) {
      const made = await addDevice({ name: "Serial line of this computer", kind: "browser" });
      if (!made.ok) throw new SaidError(made.error);
      localStorage.setItem(TOKEN, made.token);
    }
    abort.current = new AbortController();
    setOpen(true);
    void readLines(port, onLine, abort.current.signal)
      .catch((error: unknown) => setFault(saidOf(error, LINE_LOST)))
      .finally(() => {
        setOpen(false);
        void port.close().catch(() => undefined);
      });
  };
  return {
    supported,
    open,
    lines,
    format,
    waiting,
    fault,
    setFormat,
    connect: (baudRate) =>
      connect(baudRate).catch((error: unknown) =>
        setFault((error as Error).name === "NotFoundError" ? "No port was chosen." : saidOf(error, NOT_OPENED)),
      ),
    disconnect: () => abort.current?.abort(),
  };
}
