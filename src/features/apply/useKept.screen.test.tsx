import { screen, waitFor } from "@testing-library/react";
import { applySchema, type ApplySettings } from "@/core/season/schema";
import { action } from "../../../scripts/testing/screens/asked";
import { show } from "../../../scripts/testing/screens/screen";
import { NotKept } from "@/ui/NotKept";
import { useKept } from "./useKept";

const BEGIN = applySchema.parse({});

function Form() {
  const { settings, change, busy, error } = useKept(4, BEGIN);
  return (
    <>
      <output aria-label="settings">{`${settings.seed} ${settings.without.join()}`}</output>
      <button onClick={() => change({ seed: settings.seed + 1 })}>seed</button>
      <button onClick={() => change({ without: ["tree"] })}>without</button>
      <NotKept error={error} />
      <p>{busy ? "keeping" : "rests"}</p>
    </>
  );
}

const press = (name: string) => screen.getByRole("button", { name });
const rests = () => waitFor(() => expect(screen.getByText("rests")).toBeInTheDocument());
type Part = { apply: ApplySettings };
const calls = () => action("changeSettings").mock.calls as [number, Part, Part][];

test("what is changed quickly is sent once, when the hand rests, with what it was made from", async () => {
  const { user } = await show(<Form />);
  for (let k = 0; k < 4; k++) await user.click(press("seed"));
  await user.click(press("without"));
  await rests();
  expect(calls()).toEqual([[4, { apply: { ...BEGIN, seed: BEGIN.seed + 4, without: ["tree"] } }, { apply: BEGIN }]]);
});

test("what did not arrive stays, is said, and is sent again with the next change; what was kept is not", async () => {
  action("changeSettings").mockImplementationOnce(() => Promise.reject(new Error("away")));
  const { user } = await show(<Form />);
  await user.click(press("seed"));
  await rests();
  expect(screen.getByLabelText("settings")).toHaveTextContent(String(BEGIN.seed + 1));
  expect(screen.getByRole("alert")).toHaveTextContent("it goes along with your next change");
  await user.click(press("without"));
  await rests();
  expect(screen.queryByRole("alert")).toBeNull();
  await user.click(press("seed"));
  await rests();
  const [failed, again, last] = calls();
  expect(failed[2].apply).toEqual(BEGIN);
  expect(again[1].apply).toMatchObject({ seed: BEGIN.seed + 1, without: ["tree"] });
  expect(again[2].apply).toEqual(BEGIN);
  expect(last[2].apply).toEqual(again[1].apply);
});

test("leaving before the hand has rested keeps what was changed last", async () => {
  const { user, unmount } = await show(<Form />);
  await user.click(press("seed"));
  expect(calls()).toHaveLength(0);
  unmount();
  await waitFor(() => expect(calls()).toHaveLength(1));
});
