import { failureWords } from "./failure";
import { ThreadEnded } from "../heavy/threadEnded";
import { errorForLog } from "./log";

describe("a fault inside", () => {
  test.each([
    [{ code: "ENOSPC" }, /disk is full/],
    [{ errno: 1021 }, /disk is full/],
    [{ errno: 1969 }, /longer than a minute/],
    [{ errno: 1213 }, /same time/],
    [{ name: "KnexTimeoutError" }, /in use, or it does not answer/],
    [{ code: "ECONNREFUSED" }, /does not answer, so it is not certain/],
    [new ThreadEnded("out of memory"), /thread ended before it answered/],
    [new Error("anything"), /^Not kept\. Try again; if it fails again, the terminal/],
    [null, /^Not kept\./],
  ])("%j is told with its likely cause and the way out", (error, words) =>
    expect(failureWords(error, "Not kept.")).toMatch(words),
  );
});

describe("the log", () => {
  const statement = Object.assign(
    new Error("insert into `reading_block` (`vals`) values (x'4052800000000000') - Data too long for column"),
    { code: "ER_DATA_TOO_LONG", errno: 1406, sql: "insert … 4052800000000000", sqlMessage: "Data too long for column" },
  );
  test("never holds a statement with its readings, not even in a cause", () => {
    const kept = JSON.stringify(errorForLog(new Error("an import failed", { cause: statement })));
    expect(kept).not.toContain("4052800000000000");
    expect(kept).not.toContain("insert into");
    expect(kept).toContain("Data too long for column");
    expect(kept).toContain("ER_DATA_TOO_LONG");
    expect(kept).toMatch(/failure\.test\.ts/);
  });
  test("anything thrown is written, and shortly", () => {
    expect(errorForLog("just words")).toEqual({ type: "string", message: "just words" });
    expect(errorForLog(new Error("x".repeat(5000))).message).toHaveLength(1000);
  });
});
