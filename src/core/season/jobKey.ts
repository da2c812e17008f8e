import type { SeasonJob } from "./job";

/** Says all there is to know of a job, but the text of its weather file: its length tells one file from another. */
export const jobKey = (job: SeasonJob): string => JSON.stringify({ ...job, hours: job.hours?.length ?? null });
