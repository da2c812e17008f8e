/** What the server says of a package it was sent. */
export interface PackageAnswer {
  ok?: boolean;
  experimentId?: number;
  /** What it is called here, and what it was called where it was packed. */
  name?: string;
  packed?: string;
  /** Whether the results that came along were found again; null where none came. */
  same?: boolean | null;
  error?: string;
}

/** Sends a package to be opened. A refusal is an answer; no answer at all throws. */
export async function sendPackage(file: File): Promise<PackageAnswer> {
  const response = await fetch("/api/packages", { method: "POST", body: file });
  const answer = (await response.json()) as PackageAnswer;
  return response.ok ? answer : { ...answer, ok: false };
}
