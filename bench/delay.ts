/**
 * How long others wait while one computes, and what the server's memory comes to: `/api/health` of the built application asked every
 * 20 ms while 1,000,000 rows of 20 columns arrive, are imported, reduced, shown and panned over. Run: `npx tsx bench/delay.ts [rows]`.
 */
import { readFileSync, rmSync } from "node:fs";
import { performance } from "node:perf_hooks";
import Papa from "papaparse";
import { settingsFrom } from "../src/features/import/draft";
import type { Inspection } from "../src/services/import/imports";
import { benchRequest } from "./request";
import { freePort, startLocalDatabase } from "../scripts/launcher/database";
import { upgrade } from "../scripts/launcher/upgrade";
import { DIST, ensureBuild, startWeb } from "../scripts/launcher/web";

const ROWS = Number(process.argv[2] ?? 1_000_000);
const LANES = ["A", "B", "C", "D", "E"];
const HOME = ".bravel/delay";

/** Five lanes with in, out and flow, sun, outside, wind and humidity: a second a row, days of a plausible sun. */
function* rows(): Generator<string> {
  yield `time,${LANES.flatMap((l) => [`${l} in (°C)`, `${l} out (°C)`, `${l} flow (L/min)`]).join(",")},Sun (W/m2),Outside (°C),wind (m/s),humidity (%)\n`;
  const start = Date.UTC(2026, 6, 1);
  for (let from = 0; from < ROWS; from += 5000) {
    const lines: string[] = [];
    for (let i = from; i < Math.min(ROWS, from + 5000); i++) {
      const hour = (i / 3600) % 24;
      const sun = Math.max(0, 950 * Math.sin(((hour - 6) / 12) * Math.PI)) + ((i * 7919) % 13);
      const cells = [new Date(start + i * 1000).toISOString().slice(0, 19).replace("T", " ")];
      for (let l = 0; l < LANES.length; l++) {
        const inlet = 18 + 4 * Math.sin(hour / 4) + ((i * 31 + l) % 7) / 20;
        cells.push(inlet.toFixed(2), (inlet + sun * (0.02 + 0.001 * l)).toFixed(2), (1800 + ((i + l) % 11)).toFixed(1));
      }
      cells.push(sun.toFixed(1), (12 + 6 * Math.sin((hour - 9) / 4)).toFixed(2), (1 + ((i * 13) % 17) / 10).toFixed(1));
      cells.push((55 + 10 * Math.sin(hour / 3)).toFixed(1));
      lines.push(cells.join(","));
    }
    yield `${lines.join("\n")}\n`;
  }
}

async function main(): Promise<void> {
  rmSync(HOME, { recursive: true, force: true });
  await ensureBuild(DIST);
  const database = await startLocalDatabase(HOME, 4396);
  await upgrade(database.url, HOME, () => undefined);
  const web = await startWeb({ port: await freePort(4400), databaseUrl: database.url, dist: DIST, quiet: false });
  try {
    await measure(web.address, web.process.pid!);
  } finally {
    await web.stop();
    await database.stop();
    rmSync(HOME, { recursive: true, force: true });
  }
}

/** Memory of a process in use now, MB. */
const residentMb = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? NaN) / 1024;

async function measure(address: string, pid: number): Promise<void> {
  let phase = "at rest";
  const waits = new Map<string, number[]>();
  let going = true;
  let mostMb = 0;
  const watch = (async () => {
    while (going) {
      const now = phase;
      mostMb = Math.max(mostMb, residentMb(pid));
      const started = performance.now();
      await fetch(`${address}/api/health`)
        .then((r) => r.text())
        .catch(() => undefined);
      const list = waits.get(now) ?? [];
      list.push(performance.now() - started);
      waits.set(now, list);
      await new Promise((r) => setTimeout(r, 20));
    }
  })();
  const during = async <T>(name: string, work: () => Promise<T>): Promise<T> => {
    phase = name;
    mostMb = 0;
    const started = performance.now();
    const result = await work();
    const list = (waits.get(name) ?? []).sort((a, b) => a - b);
    console.log(
      `${name.padEnd(28)} ${((performance.now() - started) / 1000).toFixed(1).padStart(6)} s   health: worst ${Math.round(list.at(-1) ?? 0)} ms, median ${Math.round(list[list.length >> 1] ?? 0)} ms of ${list.length}   memory ${Math.round(mostMb)} MB`,
    );
    return result;
  };
  const page = async (path: string) => {
    const text = await during(path, () => fetch(`${address}${path}`).then((r) => r.text()));
    console.log(`${"".padEnd(28)} ${(text.length / 1e6).toFixed(1).padStart(6)} MB`);
  };

  await during("at rest", () => new Promise((r) => setTimeout(r, 2000)));
  const inspection = await during("file arrives", async () => {
    const source = rows();
    const body = new ReadableStream<Uint8Array>({
      pull(controller) {
        const { done, value } = source.next();
        if (done) controller.close();
        else controller.enqueue(new TextEncoder().encode(value));
      },
    });
    const init = { method: "POST", body, duplex: "half", headers: { "x-file-name": "large.csv" } } as RequestInit;
    return (await (await fetch(`${address}/api/files`, init)).json()) as Inspection;
  });
  let tokeniseMs = 0;
  for (const piece of rows()) {
    const started = performance.now();
    Papa.parse(piece, { delimiter: ",", newline: "\n" });
    tokeniseMs += performance.now() - started;
    await new Promise((r) => setImmediate(r));
  }
  const importing = performance.now();
  const done = await during("import", async () => {
    const response = await fetch(`${address}/api/imports`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify(requestFor(inspection)),
    });
    const last = (await response.text()).trim().split("\n").at(-1)!;
    const end = JSON.parse(last) as { phase: string; experimentId: number };
    if (end.phase !== "done") throw new Error(last);
    return end;
  });
  console.log(
    `import ÷ bare tokenising of its text (aim 2.0): ${((performance.now() - importing) / tokeniseMs).toFixed(2)}`,
  );
  const base = `/experiments/${done.experimentId}`;
  for (const step of ["read", "read", "judge", "plan", "prove"]) await page(`${base}/${step}`);
  await page("/");
  const traces = `/api${base}/runs/1/traces?buckets=1200`;
  await page(traces);
  const [first, length] = [Date.UTC(2026, 6, 1), ROWS * 1000];
  for (const share of [0.5, 0.1, 0.01])
    for (const at of [0.1, 0.4]) {
      const from = first + at * length;
      await page(`${traces}&from=${Math.round(from)}&to=${Math.round(from + share * length)}`);
    }
  going = false;
  await watch;
}

const requestFor = ({ file, layout }: Inspection) =>
  benchRequest({
    fileId: file.id,
    settings: settingsFrom(layout!, "UTC"),
    letters: LANES,
    zone: "UTC",
    longitude: 0,
    flow: "volume",
  });

void main();
