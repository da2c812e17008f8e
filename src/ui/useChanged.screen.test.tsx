import { act, screen, waitFor } from "@testing-library/react";
import { settle, show } from "../../scripts/testing/screens/screen";
import { useChanged } from "./useChanged";

interface Thing {
  a: number;
  b: number;
}
type Answer = { ok: true } | { ok: false; error: string };

let undos: (() => void)[];
const sent: [Thing, Thing][] = [];
let answer: () => Promise<Answer>;
beforeEach(() => {
  undos = [];
  sent.length = 0;
  answer = async () => ({ ok: true });
});

function Form({ kept }: { kept: Thing }) {
  const { shown, error, change } = useChanged(kept, (next, before) => {
    sent.push([next, before]);
    return answer();
  });
  const put = (part: Partial<Thing>) =>
    change(
      (now) => ({ ...now, ...part }),
      (undo) => undos.push(undo),
    );
  return (
    <>
      <output>{`${shown.a} ${shown.b} ${error ?? ""}`.trim()}</output>
      <button onClick={() => put({ a: 5 })}>a</button>
      <button onClick={() => put({ b: 7 })}>b</button>
    </>
  );
}

const reads = () => screen.getByRole("status").textContent;
const press = (name: string) => screen.getByRole("button", { name });

describe("something kept that is changed field by field", () => {
  test("a change stays while what the server held before it arrives", async () => {
    const arrive: ((a: Answer) => void)[] = [];
    answer = () => new Promise((done) => void arrive.push(done));
    const { user, again } = await show(<Form kept={{ a: 1, b: 2 }} />);
    await user.click(press("a"));
    await user.click(press("b"));
    again(<Form kept={{ a: 5, b: 2 }} />);
    expect(reads()).toBe("5 7");
    again(<Form kept={{ a: 6, b: 7 }} />);
    expect(reads()).toBe("6 7");
    // Async changes end together in React: one that never arrived would keep every later one busy.
    arrive.forEach((come) => come({ ok: true }));
    await settle();
  });

  test("a change that did not arrive stays, is said, and goes along with the next", async () => {
    answer = () => Promise.reject(new Error("away"));
    const { user, again } = await show(<Form kept={{ a: 1, b: 2 }} />);
    await user.click(press("a"));
    await settle();
    expect(reads()).toMatch(/^5 2 The server did not answer/);
    answer = async () => ({ ok: true });
    await user.click(press("b"));
    await settle();
    expect(sent.at(-1)).toEqual([
      { a: 5, b: 7 },
      { a: 1, b: 2 },
    ]);
    again(<Form kept={{ a: 5, b: 7 }} />);
    expect(reads()).toBe("5 7");
  });

  test("one who leaves while a change is on its way is asked, and not once it is kept", async () => {
    const leaves = () => !window.dispatchEvent(new Event("beforeunload", { cancelable: true }));
    let arrive: (a: Answer) => void = () => undefined;
    answer = () => new Promise((done) => (arrive = done));
    const { user } = await show(<Form kept={{ a: 1, b: 2 }} />);
    expect(leaves()).toBe(false);
    await user.click(press("a"));
    expect(leaves()).toBe(true);
    await act(async () => arrive({ ok: true }));
    await waitFor(() => expect(leaves()).toBe(false));
  });

  test("what was kept is not sent again", async () => {
    const { user } = await show(<Form kept={{ a: 1, b: 2 }} />);
    await user.click(press("a"));
    await settle();
    await user.click(press("b"));
    await settle();
    expect(sent.at(-1)).toEqual([
      { a: 5, b: 7 },
      { a: 5, b: 2 },
    ]);
  });

  test("Undo takes back its own change and no later one", async () => {
    const { user, again } = await show(<Form kept={{ a: 1, b: 2 }} />);
    await user.click(press("a"));
    await settle();
    again(<Form kept={{ a: 5, b: 2 }} />);
    await user.click(press("b"));
    await settle();
    again(<Form kept={{ a: 5, b: 7 }} />);
    act(() => undos[0]());
    await settle();
    expect(sent.at(-1)).toEqual([
      { a: 1, b: 7 },
      { a: 5, b: 7 },
    ]);
    expect(reads()).toBe("1 7");
  });
});
