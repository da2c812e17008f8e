import pino from "pino";

interface Logged {
  type: string;
  message: string;
  code?: string;
  stack?: string;
  cause?: Logged;
}

/**
 * An error for the log. A database's error carries the whole statement with its values, readings among them: only what the
 * server said of it is kept.
 */
export function errorForLog(error: unknown): Logged {
  if (!(error instanceof Error)) return { type: typeof error, message: String(error).slice(0, 500) };
  const { sqlMessage, code } = error as { sqlMessage?: string; code?: string };
  const statement = sqlMessage !== undefined || "sql" in error;
  const message = (statement ? (sqlMessage ?? "a statement failed") : error.message).slice(0, 1000);
  return {
    type: error.name,
    message,
    ...(code ? { code } : {}),
    // The first lines of a stack repeat the message.
    stack: error.stack
      ?.split("\n")
      .filter((l) => /^\s+at /.test(l))
      .join("\n"),
    ...(error.cause ? { cause: errorForLog(error.cause) } : {}),
  };
}

/** One line of JSON an event, on standard error. Secrets never enter: addresses are logged without their passwords. */
export const log = pino(
  {
    name: "bravel",
    level: process.env.BRAVEL_LOG ?? "info",
    redact: ["password", "*.password", "headers.cookie", "headers.authorization", "databaseUrl"],
    base: undefined,
    timestamp: pino.stdTimeFunctions.isoTime,
    serializers: { err: errorForLog },
  },
  pino.destination(2),
);
