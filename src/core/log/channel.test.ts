import { CHANNEL_WORDS } from "../../words/channels";
import { findUnit, QUANTITIES } from "../quantity/quantities";
import { BY_PRECEDENCE, CHANNEL_NAMES, channelOf } from "./channel";
import { cleanChannel } from "./clean";
import { sniffLog } from "./sniff";

describe.each(CHANNEL_NAMES)("%s, as every kind of channel", (kind) => {
  const channel = channelOf(kind);
  test("has words, a quantity, a usual unit of that quantity and a range", () => {
    expect(CHANNEL_WORDS[kind].length).toBeGreaterThan(3);
    expect(QUANTITIES[channel.quantity]).toBeDefined();
    expect(findUnit(channel.quantity, channel.usualUnit)).not.toBeNull();
    expect(channel.range[0]).toBeLessThan(channel.range[1]);
  });
  test("readings inside its range are kept, outside they are faults", () => {
    const [low, high] = channel.range;
    const inside = Float64Array.from({ length: 40 }, (_, i) => low + ((high - low) * (i + 1)) / 50).filter(
      (v) => v !== 85,
    );
    const times = Float64Array.from(inside, (_, i) => i * 60000);
    const kept = cleanChannel(times, inside, kind).findings.filter((f) => f.reason === "outOfRange");
    expect(kept).toEqual([]);
    const wild = inside.slice();
    wild[5] = high + (high - low);
    expect(cleanChannel(times, wild, kind).findings).toContainEqual(
      expect.objectContaining({ reason: "outOfRange", count: 1 }),
    );
  });
  test("its own words mean it in a header", () => {
    const header: Record<typeof kind, string> = {
      inlet: "A in",
      outlet: "A outlet",
      plate: "A absorber",
      speed: "A speed",
      volumeFlow: "A flow",
      massFlow: "A mass flow",
      fanPower: "A fan power",
      volumeCounter: "A counter",
      fanState: "A fan on",
      fanVoltage: "A voltage",
      fanCurrent: "A amps",
      fanEnergy: "A fan energy",
      tank: "A tank",
      room: "room",
      swap: "swap",
      irradiance: "sun in plane",
      horizontalSun: "second sun",
      ambient: "outside",
      wind: "wind speed",
      humidity: "rh",
      pressure: "barometer",
    };
    const log = [
      "time,x," + header[kind],
      ...Array.from({ length: 6 }, (_, i) => `2026-10-05T10:0${i}:00Z,1,${i}`),
    ].join("\n");
    const sniffed = sniffLog(log, { whole: true });
    expect(sniffed.ok && sniffed.layout.columns[2].kind).toBe(kind);
  });
});

test("every kind is tried once, wind before speed and mass flow before flow", () => {
  expect([...BY_PRECEDENCE].sort()).toEqual([...CHANNEL_NAMES].sort());
  expect(new Set(BY_PRECEDENCE.map((k) => channelOf(k).precedence)).size).toBe(CHANNEL_NAMES.length);
  const before = (a: (typeof CHANNEL_NAMES)[number], b: (typeof CHANNEL_NAMES)[number]) =>
    BY_PRECEDENCE.indexOf(a) < BY_PRECEDENCE.indexOf(b);
  expect(before("wind", "speed")).toBe(true);
  expect(before("massFlow", "volumeFlow")).toBe(true);
});

test("an honest calm of wind is not called stuck, a stuck inlet is", () => {
  const times = Float64Array.from({ length: 400 }, (_, i) => i * 10000);
  const still = Float64Array.from(times, (_, i) => (i < 200 ? 20 + (i % 7) * 0.05 : 21));
  const stuck = (kind: "wind" | "inlet") => cleanChannel(times, still, kind).findings.some((f) => f.reason === "stuck");
  expect(stuck("inlet")).toBe(true);
  expect(stuck("wind")).toBe(false);
});
