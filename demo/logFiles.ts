import { toWall } from "../src/core/log/zone";
import type { BathLog } from "../src/core/rig/bath";
import type { RigLog } from "../src/core/rig/simulate";

const pad = (n: number) => String(n).padStart(2, "0");

/** The temperature and flow logger: semicolons, day first, site time. Air speed in a duct, or litres a minute of a liquid. */
export function laneLogCsv(log: RigLog, zone: string, fluid: "air" | "liquid" = "air"): string {
  const lanes = [...log.lanes];
  const flow = fluid === "air" ? "speed (m/s)" : "flow (L/min)";
  const scaled = (v: number) => (fluid === "air" ? v : v * 60_000).toFixed(2);
  const tank = (l: string) => (log.tanks.has(l) ? [`${l} tank (°C)`] : []);
  const head = ["Time", ...lanes.flatMap(([l]) => [`${l} in (°C)`, `${l} out (°C)`, `${l} ${flow}`, ...tank(l)])].join(
    ";",
  );
  const lines = Array.from(log.times, (utc, i) => {
    const d = new Date(toWall(utc, zone));
    const time = `${pad(d.getUTCDate())}.${pad(d.getUTCMonth() + 1)}.${d.getUTCFullYear()} ${pad(d.getUTCHours())}:${pad(d.getUTCMinutes())}:${pad(d.getUTCSeconds())}`;
    return [
      time,
      ...lanes.flatMap(([l, c]) => [
        c.inlet[i].toFixed(2),
        c.outlet[i].toFixed(2),
        scaled(c.speed[i]),
        ...(log.tanks.has(l) ? [log.tanks.get(l)![i].toFixed(2)] : []),
      ]),
    ].join(";");
  });
  return `${[head, ...lines].join("\r\n")}\r\n`;
}

/** A bath's log: comma, ISO time, one column a probe. */
export function bathLogCsv(log: BathLog): string {
  const head = ["time", ...log.probes.map((p) => `${p.key} (°C)`)].join(",");
  const lines = Array.from(log.times, (t, i) =>
    [
      new Date(t).toISOString().replace(".000", ""),
      ...log.probes.map((p) => (Number.isNaN(p.values[i]) ? "" : p.values[i].toFixed(2))),
    ].join(","),
  );
  return `${[head, ...lines].join("\n")}\n`;
}

/** The weather logger: commas, ISO time with its own Z. */
export function weatherLogCsv(log: RigLog): string {
  const { irradiance, ambient, wind, humidity } = log.shared;
  const head = "timestamp,Sun in plane [W/m2],Outside [degC],Wind [m/s],RH [%]";
  const lines = Array.from(log.times, (utc, i) =>
    [
      new Date(utc).toISOString().replace(".000", ""),
      irradiance[i].toFixed(1),
      ambient[i].toFixed(2),
      wind[i].toFixed(1),
      (humidity[i] * 100).toFixed(1),
    ].join(","),
  );
  return `${[head, ...lines].join("\n")}\n`;
}
