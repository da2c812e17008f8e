import type { VerdictChange } from "../core/judge/versions";

/** What has changed since a verdict was frozen, in a sentence. @param heat writes a difference with its ± */
export function changeWords(c: VerdictChange, heat: (si: number, expanded: number | null) => string): string {
  if (c.same) return "Nothing has changed since.";
  const parts: string[] = [];
  if (c.turned) parts.push(`it said “${c.turned.from}”, now it is “${c.turned.to}”`);
  if (c.difference)
    parts.push(
      `the difference was ${heat(c.difference.from, c.difference.expandedFrom)} and is ${heat(c.difference.to, c.difference.expandedTo)}`,
    );
  if (c.points) parts.push(`${c.points.from} points have become ${c.points.to}`);
  if (c.asked.includes("operatingPoint")) parts.push("the operating point was moved");
  if (c.asked.includes("way")) parts.push("lanes are compared in another way");
  const { gone, come } = c.doubts;
  if (gone || come)
    parts.push(
      [gone ? `${gone} doubt${gone > 1 ? "s" : ""} went` : "", come ? `${come} came` : ""].filter(Boolean).join(", "),
    );
  if (parts.length === 0) return "The answer is the same; figures behind it have changed.";
  const text = parts.join("; ");
  return `Since then ${text}.`;
}
