import { z } from "zod";
import type { Implausible } from "../../core/analysis/slip";
import { LAYER_DETAILS } from "../../core/experiment/schema/layer";
import { instantSchema } from "../../core/experiment/schema/bounds";
import { lineSchema } from "../../core/text/line";
import { MOST_SWAPS } from "../../core/experiment/swaps";
import { asBuiltSchema, builtDesignSchema } from "../../core/experiment/schema/design";
import { laneSetupSchema, logSettingsSchema, runSetupSchema } from "../../core/experiment/schema/run";
import { experimentSettingsSchema } from "../../core/experiment/schema/settings";
import { siteSchema } from "../../core/experiment/schema/site";
import { channelOf, type ChannelKind } from "../../core/log/channel";
import type { LogQuestion } from "../../core/log/question";
import type { ImportSummary } from "../../core/log/logData";
import { findUnit } from "../../core/quantity/quantities";

const letter = z.string().regex(/^[A-H]$/);

const newLane = z.object({
  letter: z.string().regex(/^[A-H]$/),
  variantKey: z.string().min(1).max(120),
  variantName: lineSchema().min(1, "a lane needs a name").max(120),
  design: builtDesignSchema,
  asBuilt: asBuiltSchema.partial().optional(),
});

/** A factor beyond this makes a quantity that nothing on a bench has. */
const MOST_FACTOR = 1e9;

/** What one column by itself cannot say: that the file has it, and that its unit is one of what it measures. */
function checkColumns({ columns, timeColumns }: z.infer<typeof logSettingsSchema>, ctx: z.RefinementCtx): void {
  const issue = (message: string) => ctx.addIssue({ code: "custom", message });
  const beyond = [...columns.map((c) => c.index), ...timeColumns].find((i) => i >= columns.length);
  if (beyond !== undefined) issue(`there is no column ${beyond + 1}: the file has ${columns.length}`);
  for (const { index, header, kind, unit, factor } of columns) {
    const name = `column ${index + 1}${header ? `, “${header.slice(0, 60)}”` : ""}`;
    const size = Math.abs(factor ?? 1);
    if (!(size <= MOST_FACTOR && size >= 1 / MOST_FACTOR)) issue(`${name}: no reading is ${factor} times another`);
    if (kind && unit && !factor && !findUnit(channelOf(kind).quantity, unit))
      issue(`${name}: ${unit} is no unit of what it is said to measure (${channelOf(kind).quantity})`);
  }
}

/** Letters name one lane each. */
const differing = (what: string, letters: readonly string[], ctx: z.RefinementCtx): void => {
  const twice = letters.find((l, i) => letters.indexOf(l) !== i);
  if (twice) ctx.addIssue({ code: "custom", message: `lane ${twice} is ${what} twice` });
};

const requestShape = z.object({
  target: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("existing"), experimentId: z.number().int().positive() }),
    z.object({
      kind: z.literal("new"),
      name: lineSchema().min(1, "the experiment needs a name").max(120),
      question: lineSchema().max(500),
      site: z.discriminatedUnion("kind", [
        z.object({ kind: z.literal("known"), id: z.number().int().positive() }),
        siteSchema.partial({ detail: true }).extend({ kind: z.literal("new") }),
      ]),
      settings: experimentSettingsSchema,
    }),
  ]),
  newLanes: z.array(newLane).max(8),
  run: z.object({
    note: z.string().max(500),
    setup: runSetupSchema,
    lanes: z
      .array(
        z.object({
          letter: z.string().regex(/^[A-H]$/),
          station: z.number().int().min(1).max(24),
          setup: laneSetupSchema,
        }),
      )
      .min(1)
      .max(8),
    /** Boxes that changed places during the log, as typed. */
    swaps: z
      .array(z.object({ atMs: instantSchema, lanes: z.tuple([letter, letter]) }))
      .max(MOST_SWAPS)
      .default([]),
  }),
  files: z
    .array(
      z.object({
        fileId: z.number().int().positive(),
        settings: logSettingsSchema.superRefine(checkColumns),
        /** Its logger's clock was slow by this much, as a layer. */
        clock: LAYER_DETAILS.clock.omit({ streamId: true }).optional(),
        /** It shows what a device sent so far: the run looks at the device's stream, not at the file. */
        live: z.object({ streamId: z.number().int().positive() }).optional(),
      }),
    )
    .min(1)
    .max(40),
  /** The run goes on: it begins here and has no end yet. Null for what was logged before. */
  liveFromMs: instantSchema.nullable().default(null),
  /** It ended then; null while it goes on. */
  liveUntilMs: instantSchema.nullable().default(null),
  /** Names this import: sent again, it finds the run it made instead of making another. */
  key: z
    .string()
    .regex(/^[\w-]{16,64}$/)
    .optional(),
  /** What physics does not allow and a person has said is right, by its key. */
  accepted: z.array(z.string().max(60)).max(100).default([]),
  /** A run of the experiment whose files are read again: this one takes its place. */
  replaces: z.number().int().positive().nullable().default(null),
});
export const importRequestSchema = requestShape.superRefine(({ run, newLanes }, ctx) => {
  differing(
    "set up",
    run.lanes.map((l) => l.letter),
    ctx,
  );
  differing(
    "described",
    newLanes.map((l) => l.letter),
    ctx,
  );
});
/** Names an import. */
export const importKeySchema = requestShape.shape.key;
/** As clients send it: what has a default may be left out. */
export type ImportRequest = z.input<typeof importRequestSchema>;
export type FullRequest = z.output<typeof importRequestSchema>;

export type ImportProgress =
  | { phase: "reading" | "writing"; file: number; files: number; share: number; rows: number }
  | { phase: "done"; experimentId: number; run: number; streams: { name: string; summary: ImportSummary }[] };

/** What an import asks before it keeps anything. */
export interface ImportAsks {
  kind: "asks";
  files: { fileId: number; name: string; questions: LogQuestion[] }[];
  /** What the readings say that physics does not allow; `key` is what `accepted` names. */
  implausible: { key: string; found: Implausible }[];
  zone: string;
}

export type ImportFailure =
  | ImportAsks
  | { kind: "noRows"; file: string; summary: ImportSummary }
  | { kind: "fileGone"; fileId: number }
  | { kind: "experimentGone" }
  | { kind: "siteGone" }
  | { kind: "laneUnknown"; letter: string }
  /** Two files measured one thing at one time. */
  | { kind: "channelTwice"; channel: ChannelKind; lane: string | null; files: [string, string] }
  | { kind: "swapsUnclear"; changes: number; lanes: number }
  | { kind: "swapOutside"; atMs: number; fromMs: number; toMs: number; zone: string }
  | { kind: "zoneUnknown"; zone: string }
  | { kind: "deviceGone" }
  /** The run that was to be read again is gone, or was not read from a file. */
  | { kind: "againGone" }
  /** Nothing was sent in the span of a device's readings that was asked for, or it lies ahead of now. */
  | { kind: "spanEmpty"; fromMs: number; untilMs: number; zone: string }
  /** Another run of the experiment holds these readings; `untilMs` null while it goes on. */
  | { kind: "spanTaken"; run: number; fromMs: number; untilMs: number | null; zone: string };

/** An import that cannot be done as asked; nothing of it was kept. */
export class ImportRefused extends Error {
  constructor(readonly failure: ImportFailure) {
    super(failure.kind);
  }
}

/** Thrown inside the transaction when the person cancels, so that everything rolls back. */
export class ImportCancelled extends Error {}

/** The database went away between the last reading and its answer: whether the run was kept, nobody knows yet. */
export class ImportUnsure extends Error {
  constructor(
    readonly run: number,
    options: ErrorOptions,
  ) {
    super(`run ${run} may or may not have been kept`, options);
  }
}
