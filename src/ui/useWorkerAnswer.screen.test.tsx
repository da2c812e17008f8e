import { act, screen } from "@testing-library/react";
import { settle, show } from "../../scripts/testing/screens/screen";
import { useWorkerAnswer, useWorkerAnswers, type Answered, type Desk } from "./useWorkerAnswer";

interface Running {
  asked: string;
  progress: (share: number) => void;
  resolve: (value: string) => void;
  reject: (error: Error) => void;
}
let running: Running[];
let stops: number;
beforeEach(() => {
  running = [];
  stops = 0;
});

const PATIENT: Desk = { name: "patient" };
const STOPPED: Desk = { name: "stopped", stop: () => void stops++ };
const answer = (asked: string, progress: (share: number) => void = () => undefined) =>
  new Promise<string>((resolve, reject) => running.push({ asked, progress, resolve, reject }));
const failure = "It could not be computed.";

function Asking({
  of,
  desk,
  known = null,
}: {
  of: string | null;
  desk: Desk;
  known?: Answered<string, string> | null;
}) {
  const a = useWorkerAnswer({ desk, asked: of, key: of ?? "", answer, failure }, known);
  return (
    <>
      <output>
        {[a.last ? `${a.last.of}: ${a.last.value}` : "none", a.busy && "busy", a.stopped && "stopped", a.failed]
          .filter(Boolean)
          .join(", ")}
      </output>
      <p data-testid="progress">{String(a.progress)}</p>
      <button onClick={a.stop}>stop</button>
      <button onClick={a.again}>again</button>
    </>
  );
}
const reads = () => screen.getByRole("status").textContent;
const asked = () => running.map((r) => r.asked);
const give = async (at: number, value = `answer ${running[at].asked}`) => {
  await act(async () => running[at].resolve(value));
  await settle();
};

describe("what a worker answers", () => {
  test("the last answer stays until the next is there, and going back asks nothing anew", async () => {
    const { again } = await show(<Asking of="one" desk={PATIENT} />);
    expect(reads()).toBe("none, busy");
    await give(0);
    expect(reads()).toBe("one: answer one");
    again(<Asking of="two" desk={PATIENT} />);
    await settle();
    expect(reads()).toBe("one: answer one, busy");
    await give(1);
    expect(reads()).toBe("two: answer two");
    again(<Asking of="one" desk={PATIENT} />);
    await settle();
    expect(reads()).toBe("one: answer one");
    expect(asked()).toEqual(["one", "two"]);
  });

  test("where nothing can be stopped, of those who wait only the newest is answered", async () => {
    const { again } = await show(<Asking of="a" desk={PATIENT} />);
    for (const newer of ["ab", "abc", "abcd"]) {
      again(<Asking of={newer} desk={PATIENT} />);
      await settle();
    }
    expect(asked()).toEqual(["a"]);
    await give(0);
    expect(asked()).toEqual(["a", "abcd"]);
    await give(1);
    expect(reads()).toBe("abcd: answer abcd");
  });

  test("where it can, a question that is superseded or left is stopped", async () => {
    const { again, unmount } = await show(<Asking of="a" desk={STOPPED} />);
    again(<Asking of="b" desk={STOPPED} />);
    await settle();
    expect([stops, asked()]).toEqual([1, ["a", "b"]]);
    await give(1);
    expect(reads()).toBe("b: answer b");
    again(<Asking of="c" desk={STOPPED} />);
    await settle();
    unmount();
    await settle();
    expect(stops).toBe(2);
  });

  test("what was had before is not asked; what is missing neither", async () => {
    const known = { key: "one", of: "one", value: "known" };
    const { again } = await show(<Asking of="one" desk={PATIENT} known={known} />);
    expect(reads()).toBe("one: known");
    again(<Asking of={null} desk={PATIENT} known={known} />);
    await settle();
    expect([reads(), asked()]).toEqual(["one: known", []]);
  });

  test("a person stops it and asks again; its progress is shown meanwhile", async () => {
    const { user } = await show(<Asking of="a" desk={STOPPED} />);
    await act(async () => running[0].progress(0.4));
    expect(screen.getByTestId("progress")).toHaveTextContent("0.4");
    await user.click(screen.getByRole("button", { name: "stop" }));
    await settle();
    expect([reads(), stops]).toEqual(["none, stopped", 1]);
    expect(screen.getByTestId("progress")).toHaveTextContent("null");
    await user.click(screen.getByRole("button", { name: "again" }));
    await settle();
    expect(reads()).toBe("none, busy");
    await give(running.length - 1);
    expect(reads()).toBe("a: answer a");
  });

  test("a fault is said in a sentence, the last answer stays, and it can be asked again", async () => {
    const log = jest.spyOn(console, "error").mockImplementation(() => undefined);
    const { user, again } = await show(<Asking of="a" desk={PATIENT} />);
    await give(0);
    again(<Asking of="b" desk={PATIENT} />);
    await settle();
    await act(async () => running[1].reject(new Error("undefined is not a function")));
    await settle();
    expect(reads()).toBe(`a: answer a, ${failure}`);
    await user.click(screen.getByRole("button", { name: "again" }));
    await settle();
    await give(2);
    expect(reads()).toBe("b: answer b");
    log.mockRestore();
  });
});

test("several are asked one after the other, and one that fails is said", async () => {
  const log = jest.spyOn(console, "error").mockImplementation(() => undefined);
  function Several() {
    const { values, failed } = useWorkerAnswers(
      ["x", "y"].map((of) => ({ desk: PATIENT, asked: of, key: of, answer, failure })),
    );
    return <output>{`${values.join()} ${failed ?? ""}`}</output>;
  }
  await show(<Several />);
  expect(asked()).toEqual(["x"]);
  await give(0);
  expect(reads()).toBe("answer x, ");
  await act(async () => running[1].reject(new Error("no")));
  await settle();
  expect(reads()).toBe(`answer x, ${failure}`);
  log.mockRestore();
});
