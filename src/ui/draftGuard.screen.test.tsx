import { render, screen } from "@testing-library/react";
import { isKept } from "./browserDraft";
import { DraftGuard } from "./DraftGuard";

const said: string[] = [];
jest.mock("./toast", () => ({ toast: (text: string) => void said.push(text) }));
const STORE = "a-draft";

/** Reads what is kept as it comes, and is thrown by anything else than a list. */
function Page() {
  const kept = JSON.parse(localStorage.getItem(STORE) ?? '{"rows":[]}') as { rows: string[] };
  return <p>{kept.rows.map((row) => row.length).length} rows</p>;
}
const Broken = () => {
  throw new Error("for another reason");
};

beforeEach(() => {
  said.splice(0);
  localStorage.clear();
  jest.spyOn(console, "error").mockImplementation(() => undefined);
});

test.each(['{"rows":[null]}', '{"rows":7}', "7", "{half", '{"rows":[{"length":1}, null]}'])(
  "a page that %s kept by the browser would take away begins anew, and what was kept is put aside",
  (kept) => {
    localStorage.setItem(STORE, kept);
    render(
      <DraftGuard store={STORE}>
        <Page />
      </DraftGuard>,
    );
    expect(screen.getByText("0 rows")).toBeVisible();
    expect(isKept(STORE)).toBe(false);
    expect(localStorage.getItem(`${STORE}-unreadable`)).toBe(kept);
    expect(said).toEqual([expect.stringMatching(/put aside/)]);
  },
);

test("what is kept well is drawn and stays", () => {
  localStorage.setItem(STORE, '{"rows":["a"]}');
  render(
    <DraftGuard store={STORE}>
      <Page />
    </DraftGuard>,
  );
  expect(screen.getByText("1 rows")).toBeVisible();
  expect(isKept(STORE)).toBe(true);
});

test("a fault that has nothing to do with a draft is said as anywhere", () => {
  const draw = () =>
    render(
      <DraftGuard store={STORE}>
        <Broken />
      </DraftGuard>,
    );
  expect(draw).toThrow("for another reason");
  localStorage.setItem(STORE, "{}");
  expect(draw).toThrow("for another reason");
});
