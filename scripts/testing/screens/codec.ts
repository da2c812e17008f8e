/** JSON that keeps what JSON loses: NaN, infinities, undefined in objects, maps, typed arrays and bytes. Pages cross to the tests in it. */
type Tagged = { $: string; v?: unknown };

const pack = (value: unknown): unknown => {
  if (value === undefined) return { $: "undefined" } satisfies Tagged;
  if (typeof value === "number" && !Number.isFinite(value)) return { $: "number", v: String(value) } satisfies Tagged;
  if (typeof value !== "object" || value === null) return value;
  if (Array.isArray(value)) return value.map(pack);
  if (value instanceof Map) return { $: "Map", v: [...value].map(pack) } satisfies Tagged;
  if (ArrayBuffer.isView(value))
    return { $: value.constructor.name, v: [...(value as Float64Array)].map(pack) } satisfies Tagged;
  if (value instanceof Date) throw new Error("a page hands over instants as numbers, not dates");
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, pack(v)]));
};

const ARRAYS = { Float32Array, Float64Array, Int16Array, Uint8Array, Uint16Array, Int32Array, Uint32Array, Buffer };

const open = (value: unknown): unknown => {
  if (typeof value !== "object" || value === null) return value;
  if (Array.isArray(value)) return value.map(open);
  const { $: tag, v } = value as Tagged;
  if (tag === undefined) return Object.fromEntries(Object.entries(value).map(([k, x]) => [k, open(x)]));
  if (tag === "undefined") return undefined;
  if (tag === "number") return Number(v);
  if (tag === "Map") return new Map(open(v) as [unknown, unknown][]);
  const kind = ARRAYS[tag as keyof typeof ARRAYS];
  if (!kind) throw new Error(`the codec knows no ${tag}`);
  return kind.from(open(v) as number[]);
};

export const encode = (value: unknown): string => JSON.stringify(pack(value));
export const decode = (text: string): unknown => open(JSON.parse(text));
