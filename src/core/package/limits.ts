/** What a package may hold: more is no experiment, or means harm. */
export const LIMITS = {
  entries: 2000,
  /** Bytes of one description, and of all entries unpacked. */
  json: 16 * 1024 * 1024,
  unpacked: 2 * 1024 * 1024 * 1024,
  /** An entry that unpacks to more than so many times its packed size, once it is past a megabyte: a bomb. Readings pack by 3 to 40. */
  ratio: 200,
  readings: 20_000_000,
} as const;

const NAME =
  /^(?:datapackage\.json|experiment\.json|results\.json|README\.txt|(?:data|raw)\/[^/\\\u0000-\u001f]{1,180})$/;

/** Why an entry's name is refused; null when it may be read. Nothing is ever written under it, and a name that climbs still tells of what made it. */
export function entryProblem(name: string): string | null {
  if (name.length > 200) return "a name of more than 200 characters";
  if (name.split("/").some((part) => part === ".." || part === ".")) return "a name that climbs out of the package";
  if (/^(?:\/|[A-Za-z]:)|\\/.test(name)) return "a name that begins at a disk’s root";
  return NAME.test(name)
    ? null
    : "an entry that belongs to no package: datapackage.json, experiment.json, results.json, data/ and raw/ do";
}
