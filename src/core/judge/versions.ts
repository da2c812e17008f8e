/** What of frozen results is compared with today's. */
export interface FrozenResults {
  verdict: {
    kind: string;
    best?: string[];
    next?: string[];
    lanes?: string[];
    /** Of a thing turned by turns. */
    lane?: string;
    decision?: string;
    difference?: { si: number; expanded: number | null };
  };
  points: number;
  operatingPoint: Record<string, number>;
  way: string;
  doubts: { key: string; dismissed: string | null }[];
  fingerprint: string;
}

/** How today's answer differs from a frozen one, in the order in which a person asks. */
export interface VerdictChange {
  same: boolean;
  /** Another kind of answer, or another winner. */
  turned: { from: string; to: string } | null;
  /** W/m². */
  difference: { from: number; to: number; expandedFrom: number | null; expandedTo: number | null } | null;
  points: { from: number; to: number } | null;
  /** The question itself was put elsewhere. */
  asked: ("operatingPoint" | "way")[];
  doubts: { gone: number; come: number };
}

function nameOf({ kind, best = [], lanes = [], lane, decision }: FrozenResults["verdict"]): string {
  if (kind === "turned") return `${lane} turned gives ${decision}`;
  if (kind === "daylight") return `${best.join(" and ")} ${decision === "tie" ? "equal" : "first"} by all daylight`;
  if (kind === "winner") return `${best.join(" and ")} first`;
  if (kind === "tie") return `${lanes.join(" and ")} equal`;
  return kind === "cannotTell" ? "cannot tell" : "no verdict";
}

/** What later data, layers or settings changed of a verdict. */
export function verdictChange(before: FrozenResults, now: FrozenResults): VerdictChange {
  const [from, to] = [nameOf(before.verdict), nameOf(now.verdict)];
  const [a, b] = [before.verdict.difference, now.verdict.difference];
  const open = (r: FrozenResults) => new Set(r.doubts.filter((d) => !d.dismissed).map((d) => d.key));
  const [was, is] = [open(before), open(now)];
  const asked: VerdictChange["asked"] = [];
  if (JSON.stringify(before.operatingPoint) !== JSON.stringify(now.operatingPoint)) asked.push("operatingPoint");
  if (before.way !== now.way) asked.push("way");
  return {
    same: before.fingerprint === now.fingerprint,
    turned: from === to ? null : { from, to },
    difference:
      a && b && from === to && a.si !== b.si
        ? { from: a.si, to: b.si, expandedFrom: a.expanded, expandedTo: b.expanded }
        : null,
    points: before.points === now.points ? null : { from: before.points, to: now.points },
    asked,
    doubts: { gone: [...was].filter((k) => !is.has(k)).length, come: [...is].filter((k) => !was.has(k)).length },
  };
}
