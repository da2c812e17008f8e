import { act, screen, within } from "@testing-library/react";
import { Toasts } from "@/ui/Toasts";
import type { LiveView } from "@/services/live/view";
import { plain, settle, show } from "../../../../scripts/testing/screens/screen";
import { action, asked } from "../../../../scripts/testing/screens/asked";
import { stepOf, workingOf } from "../../../../scripts/testing/screens/pages";
import { WorkingProvider } from "@/ui/Working";
import { LiveBench } from "./LiveBench";
import { waiting } from "./outbox";

const head = () => stepOf("On the bench now", "run").view.head;
const figure = (si: number, quantity: string, expanded: number | null = null) => ({ si, expanded, quantity }) as never;
const NOW = Date.UTC(2026, 9, 14, 10, 30);
const LANE = (letter: string, heat: number, outletC: number): LiveView["lanes"][number] => ({
  letter,
  station: "ABC".indexOf(letter) + 1,
  inlet: figure(12, "temperature", 0.3),
  outlet: figure(outletC, "temperature", 0.3),
  rise: figure(outletC - 12, "temperatureDifference", 0.5),
  flow: figure(0.02, "massFlowPerArea", 0.001),
  heat: figure(heat, "power", 50),
  efficiency: figure(0.55, "fraction", 0.03),
  steady: {
    lane: letter,
    forMs: 15 * 60_000,
    neededMs: 29 * 60_000,
    settleMs: 15 * 60_000,
    heldBack: { name: "inlet", lane: letter, worst: 2, limit: 1.5 },
  },
  hotterYetLess: null,
});
const base = (): LiveView => ({
  experimentId: head().id,
  runId: 9,
  number: 1,
  state: "running",
  startedAt: NOW - 3600_000,
  endedAt: null,
  takenBy: null,
  nowMs: NOW,
  simulated: true,
  newestMs: NOW,
  shared: {
    irradiance: figure(958, "irradiance", 29),
    ambient: figure(13.4, "temperature", 0.3),
    wind: null,
    humidity: null,
    pressure: null,
  },
  lanes: [LANE("A", 1000, 38), LANE("B", 1200, 42), LANE("C", 1010, 39)],
  trace: null,
  alarms: [],
  events: [],
  soFar: null,
  stagnationMeant: false,
  plan: null,
  devices: [],
});

/** The browser's event source, spoken by the test. */
class Spoken {
  static last: Spoken;
  onmessage: ((e: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  readonly heard = new Map<string, () => void>();
  constructor(readonly url: string) {
    Spoken.last = this;
  }
  addEventListener(name: string, f: () => void) {
    this.heard.set(name, f);
  }
  close() {}
}
beforeEach(() => {
  localStorage.clear();
  Object.assign(globalThis, { EventSource: Spoken, fetch: jest.fn(() => Promise.reject(new Error("no link"))) });
});

async function live(change: Partial<LiveView> = {}) {
  const shown = await show(
    <WorkingProvider load={action("loadWorking")}>
      <LiveBench head={head()} />
      <Toasts />
    </WorkingProvider>,
  );
  const say = (view: Partial<LiveView>) =>
    act(() => Spoken.last.onmessage!({ data: JSON.stringify({ ...base(), ...view }) }));
  say(change);
  return { ...shown, say };
}
const sentence = () => plain(screen.getByRole("heading", { level: 1 }));
const desk = () => screen.getByTestId("lanes-desk");

test("lanes stand side by side with their figures, what is shared stands once above them", async () => {
  await live();
  expect(Spoken.last.url).toBe(`/api/experiments/${head().id}/live`);
  expect(sentence()).toBe("Run 1 is running: A, B and C settling.");
  expect(within(desk()).getAllByRole("columnheader").map(plain)).toEqual(["figure", "A", "B", "C"]);
  expect(plain(within(desk()).getByRole("row", { name: /^Heat/ }))).toContain("1 200 ± 50 W");
  expect(plain(screen.getByRole("region", { name: "Live bench" }))).toContain("958 ± 29 W/m²");
  expect(plain(desk())).toContain("14:00 left");
  expect(plain(desk())).toContain("inlet changes: ± 2 K, wanted ± 1.5 K");
});

test("steady, unsteady, paused, ended and a bench without a sun sensor each have their sentence", async () => {
  const { say } = await live();
  const with_ = (f: (l: LiveView["lanes"][number], i: number) => LiveView["lanes"][number]["steady"]) =>
    base().lanes.map((l, i) => ({ ...l, steady: f(l, i) }));
  say({ lanes: with_((l) => ({ ...l.steady!, heldBack: null })) });
  expect(sentence()).toBe("Run 1 is running; all lanes steady.");
  say({
    lanes: with_((l, i) =>
      i === 2
        ? { ...l.steady!, forMs: 0, heldBack: { name: "flow", lane: "C", worst: 0.06, limit: 0.02 } }
        : { ...l.steady!, heldBack: null },
    ),
  });
  expect(sentence()).toBe("Run 1 is running: A and B steady; C not steady.");
  expect(plain(desk())).toContain("Not steady: flow changes: ± 6 %, wanted ± 2 %");
  say({ state: "paused" });
  expect(sentence()).toContain("paused");
  say({ state: "ended", endedAt: NOW });
  expect(sentence()).toBe("Run 1 has ended.");
  say({ lanes: with_(() => null) });
  expect(sentence()).toContain("hours count, not windows");
});

test("an alarm says what to do, people first; a hotter outlet with less heat is called a trap", async () => {
  const { say } = await live({
    alarms: [
      {
        id: 4,
        beganAt: NOW - 60_000,
        endedAt: null,
        acknowledgedAt: null,
        holds: true,
        alarm: { kind: "flowLost", lane: "A", irradianceWm2: 900, share: 0 },
      },
      {
        id: 3,
        beganAt: NOW - 600_000,
        endedAt: NOW - 300_000,
        acknowledgedAt: null,
        holds: false,
        alarm: { kind: "silent", device: "logger", seconds: 90 },
      },
    ],
  });
  const alarm = screen.getByRole("alert");
  expect(plain(alarm)).toContain("A has lost its flow in the sun.");
  expect(within(alarm).getAllByRole("listitem").map(plain)[0]).toContain("keep clear of outlet and metal");
  expect(screen.getByText("Alarms that are over (1)")).toBeVisible();
  say({ lanes: [{ ...LANE("A", 900, 45), hotterYetLess: "B" }, LANE("B", 1200, 42), LANE("C", 1, 20)] });
  expect(plain(desk())).toContain("hotter than B, yet less heat");
});

test("a lost link is said, with how old the figures are; what is marked waits and is counted", async () => {
  const { user } = await live();
  act(() => Spoken.last.onerror!());
  expect(plain(screen.getByRole("region", { name: "Live bench" }))).toMatch(/No link to Bravel: what you see is from/);
  const buttons = screen.getByRole("group", { name: "Events" });
  await user.click(screen.getByRole("radio", { name: "B" }));
  await user.click(within(buttons).getByRole("button", { name: "Door" }));
  await user.click(within(buttons).getByRole("button", { name: "Cloud" }));
  await settle();
  expect(screen.getByText("2 kept here, waiting to be sent")).toBeVisible();
  expect(waiting().map((w) => [w.event.kind, w.event.lane, w.event.atMs])).toEqual([
    ["door", "B", NOW],
    ["cloud", "B", NOW],
  ]);
  // The link is back: both go, in order, and nothing waits any more.
  const sent: string[] = [];
  Object.assign(globalThis, {
    fetch: jest.fn((_url: string, { body }: { body: string }) => {
      sent.push((JSON.parse(body) as { kind: string }).kind);
      return Promise.resolve({ ok: true, status: 200, json: () => Promise.resolve({ ok: true, id: 1 }) });
    }),
  });
  act(() => void window.dispatchEvent(new Event("online")));
  await settle();
  expect(sent).toEqual(["door", "cloud"]);
  expect(screen.queryByText(/waiting to be sent/)).toBeNull();
});

test("an event that is refused for good stays with its reason until it is taken away", async () => {
  const { user } = await live();
  Object.assign(globalThis, {
    fetch: jest.fn(() =>
      Promise.resolve({
        ok: false,
        status: 409,
        json: () => Promise.resolve({ error: "A and H do not both stand there." }),
      }),
    ),
  });
  await user.click(
    within(screen.getByRole("group", { name: "Events" })).getByRole("button", { name: "Mirror turned" }),
  );
  await settle();
  expect(screen.getByText("A and H do not both stand there.")).toBeVisible();
  expect(screen.getByText("1 refused, see below")).toBeVisible();
  await user.click(screen.getByRole("button", { name: "Take away" }));
  expect(waiting()).toEqual([]);
});

test.each([
  [401, "it goes once you have signed in again"],
  [503, "its database does not answer yet"],
  [502, "its database does not answer yet"],
])("after an answer of %s an event waits, says for what, and goes when it can", async (status, words) => {
  const { user } = await live();
  const answer = (ok: boolean, code: number) => ({
    ok,
    status: code,
    json: () => Promise.resolve({ ok, error: "not now" }),
  });
  const fetched = jest.fn().mockResolvedValue(answer(false, status));
  Object.assign(globalThis, { fetch: fetched });
  await user.click(within(screen.getByRole("group", { name: "Events" })).getByRole("button", { name: "Door" }));
  await settle();
  expect(plain(document.body)).toContain(words);
  expect(screen.getByText("1 kept here, waiting to be sent")).toBeVisible();
  expect(screen.queryByRole("button", { name: "Take away" })).toBeNull();
  fetched.mockResolvedValue(answer(true, 200));
  act(() => void window.dispatchEvent(new Event("online")));
  await settle();
  expect(waiting()).toEqual([]);
});

test("a figure opens its working; who begins and ends the run is one press", async () => {
  action("loadWorking").mockImplementation(async () => workingOf("Absorber shapes"));
  const { user } = await live({ plan: { followed: false, next: { fromMs: NOW + 3600_000, toMs: NOW + 7200_000 } } });
  const table = within(screen.getByTestId("lanes-desk"));
  await user.click(table.getAllByRole("button", { name: /open its working/ })[0]);
  await settle();
  expect(asked("loadWorking")).toEqual([{ figure: "live", lane: "A", name: "rise" }]);
  await user.click(screen.getByRole("checkbox", { name: /Begin and end by the plan/ }));
  expect(asked("followThePlan")).toEqual([head().id, 9, true, NOW]);
});

test("a spot reading is held against its probe; a swap asks who changed places", async () => {
  const { user } = await live();
  await user.type(screen.getByLabelText("Reads"), "38,2 C{Enter}");
  expect(plain(screen.getByRole("group", { name: "Spot reading" }))).toContain("they agree");
  await user.clear(screen.getByLabelText("Reads"));
  await user.type(screen.getByLabelText("Reads"), "120 F{Enter}");
  expect(plain(screen.getByRole("group", { name: "Spot reading" }))).toContain("they differ by 10.9 K");
  await user.click(screen.getByRole("button", { name: "Keep" }));
  await user.click(within(screen.getByRole("group", { name: "Events" })).getByRole("button", { name: "Swap" }));
  await user.selectOptions(screen.getByLabelText("Box it changed places with"), "A");
  expect(screen.getByRole("button", { name: "Mark the swap" })).toBeDisabled();
  await user.selectOptions(screen.getByLabelText("Box it changed places with"), "C");
  await user.click(screen.getByRole("button", { name: "Mark the swap" }));
  expect(waiting().map((w) => [w.event.kind, w.event.lane ?? w.event.lanes])).toEqual([
    ["spot", "A"],
    ["swap", ["A", "C"]],
  ]);
});
