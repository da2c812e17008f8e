import { simulateBench } from "../src/core/rig/bench";
import { toWall } from "../src/core/log/zone";
import { clearDays, oneRun, testBench, testLane } from "../scripts/testing/bench";

const pad = (n: number) => String(n).padStart(2, "0");
const fahrenheit = (c: number) => ((c * 9) / 5 + 32).toFixed(2);

/** A stranger's log: month first, Fahrenheit, feet a minute, a battery column, two spoilt rows. */
export function strangersLog(): string {
  const [run] = simulateBench(
    testBench({
      specimens: [testLane("A", "a"), testLane("B", "b", 60)],
      inletProgram: [0, 9, 18, 27].map((aboveAmbientK, i) => ({ fromHour: [0, 11.2, 12.4, 13.6][i], aboveAmbientK })),
      runs: oneRun(clearDays([5, 6, 7])),
    }),
  );
  const { log } = run;
  const [a, b] = ["A", "B"].map((l) => log.lanes.get(l)!);
  const rows = [
    "Stamp,Box 1 in (F),Box 1 out (F),Box 1 air (fpm),Box 2 in (F),Box 2 out (F),Box 2 air (fpm),Pyranometer (W/m2),Outside (F),Battery (V)",
  ];
  log.times.forEach((utc, i) => {
    const d = new Date(toWall(utc, "Europe/Zurich"));
    const stamp = `${pad(d.getUTCMonth() + 1)}/${pad(d.getUTCDate())}/${d.getUTCFullYear()} ${pad(d.getUTCHours())}:${pad(d.getUTCMinutes())}:${pad(d.getUTCSeconds())}`;
    rows.push(
      [
        stamp,
        fahrenheit(a.inlet[i]),
        fahrenheit(a.outlet[i]),
        (a.speed[i] * 196.85).toFixed(0),
        fahrenheit(b.inlet[i]),
        fahrenheit(b.outlet[i]),
        (b.speed[i] * 196.85).toFixed(0),
        log.shared.irradiance[i].toFixed(0),
        fahrenheit(log.shared.ambient[i]),
        "3.71",
      ].join(","),
    );
  });
  rows.splice(200, 0, "rebooted", "10/05/2026 10:30:00,1,2");
  return rows.join("\r\n");
}

export const file = (name: string, content: string | Buffer) => ({
  name,
  mimeType: "text/csv",
  buffer: Buffer.from(content as string),
});
