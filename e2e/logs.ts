import { CORRUGATED, simulateBench } from "../src/core/rig/bench";
import { toWall } from "../src/core/log/zone";

const pad = (n: number) => String(n).padStart(2, "0");
const fahrenheit = (c: number) => ((c * 9) / 5 + 32).toFixed(2);

/** A stranger's log: month first, Fahrenheit, feet a minute, a battery column, two spoilt rows. */
export function strangersLog(): string {
  const [run] = simulateBench({
    seed: 5,
    stepS: 30,
    hours: [9, 17],
    accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
    specimens: [
      { lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
      { lane: "B", variant: "b", collector: { ...CORRUGATED, streamTransfer: 60 }, areaM2: 2, massFlowKgPerS: 0.04 },
    ],
    inletProgram: [
      { fromHour: 0, aboveAmbientK: 0 },
      { fromHour: 11.2, aboveAmbientK: 9 },
      { fromHour: 12.4, aboveAmbientK: 18 },
      { fromHour: 13.6, aboveAmbientK: 27 },
    ],
    runs: [
      {
        run: "1",
        days: [5, 6, 7].map((d) => ({
          dateMs: Date.UTC(2026, 9, d, 10),
          cloudiness: 0,
          meanAmbientC: 9,
          meanWind: 1.5,
        })),
        stations: { A: 1, B: 2 },
      },
    ],
  });
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
