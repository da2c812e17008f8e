import pino from "pino";

/** One line of JSON an event, on standard error. Secrets never enter: addresses are logged without their passwords. */
export const log = pino(
  {
    name: "bravel",
    level: process.env.BRAVEL_LOG ?? "info",
    redact: ["password", "*.password", "headers.cookie", "headers.authorization", "databaseUrl"],
    base: undefined,
    timestamp: pino.stdTimeFunctions.isoTime,
  },
  pino.destination(2),
);
