import { screen, within } from "@testing-library/react";
import type { BenchEntry } from "@/services/page/benchView";
import type { TodayView } from "@/services/plan/today";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { router } from "../../../scripts/testing/screens/navigation";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { bench } from "../../../scripts/testing/screens/pages";
import { Bench } from "./Bench";
import { Deleted } from "./Deleted";
import { Today } from "./Today";

beforeEach(() => window.localStorage.clear());
const items = () => screen.getAllByRole("listitem").filter((li) => li.querySelector("a"));

/** In the demo every experiment can be computed. */
const computed = (experiments: readonly BenchEntry[]) =>
  experiments.map((e) => {
    if (!e.summary) throw new Error(e.why);
    return e;
  });

describe("the bench", () => {
  test("one that cannot be computed says why in its place; the others stand", async () => {
    const { experiments } = bench();
    const broken: BenchEntry = { head: experiments[0].head, summary: null, why: "zone Mars/Base is not known" };
    await show(<Bench experiments={[broken, ...experiments.slice(1)]} />);
    expect(items()).toHaveLength(experiments.length);
    expect(plain(items()[0])).toContain("Its answer could not be computed: zone Mars/Base is not known.");
    expect(within(items()[0]).getByRole("link", { name: /See what is at fault/ })).toHaveAttribute(
      "href",
      `/experiments/${broken.head.id}/run`,
    );
    expect(within(items()[0]).getByRole("button", { name: /^Delete/ })).toBeEnabled();
  });

  test("every experiment stands with its answer and the one thing to do next", async () => {
    const { experiments } = bench();
    await show(<Bench experiments={experiments} />);
    expect(items()).toHaveLength(experiments.length);
    for (const [i, { head, summary }] of computed(experiments).entries()) {
      const text = plain(items()[i]);
      expect(text).toContain(head.name);
      expect(text).toContain(`${summary.windows} steady windows`);
      const next = summary.verdict.kind === "none" ? /Import a run|predicted order|Draw/ : /See the ranking/;
      expect(text).toMatch(next);
      expect(text.includes("no doubts")).toBe(summary.doubts === 0);
    }
  });

  test("a winner, a tie and a cannot-tell read differently", async () => {
    const { experiments } = bench();
    await show(<Bench experiments={experiments} />);
    const texts = items().map(plain);
    for (const [i, { summary }] of computed(experiments).entries()) {
      if (summary.verdict.kind === "winner") expect(texts[i]).toMatch(/more heat per \w+ area than/);
      if (summary.verdict.kind === "cannotTell") expect(texts[i]).toMatch(/Cannot tell( yet)? whether/);
      if (summary.verdict.kind === "none") expect(texts[i]).not.toMatch(/more heat per \w+ area than/);
    }
  });

  test.each([
    [0, "Asked, and nothing drawn yet.", "build"],
    [1, "is drawn, nothing built yet", "ask"],
    [2, "2 variants are drawn, none built yet", "ask"],
  ])("with %s variants drawn and none built it says so and leads to %s", async (count, words, step) => {
    const found = bench().experiments.find((e) => e.head.lanes.length === 0)!;
    const head = { ...found.head, drawn: found.head.drawn.slice(0, count) };
    await show(<Bench experiments={[{ ...found, head }]} />);
    expect(plain(items()[0])).toContain(words);
    const links = within(items()[0]).getAllByRole("link");
    expect(links.at(-1)).toHaveAttribute("href", `/experiments/${head.id}/${step}`);
  });

  test("deleting goes by the experiment’s id and can be undone", async () => {
    const { experiments } = bench();
    const { user } = await show(<Bench experiments={experiments} />);
    const [{ head }] = experiments;
    await user.click(screen.getByRole("button", { name: `Delete ${head.name}` }));
    await settle();
    expect(asked("deleteExperiment")).toEqual([head.id, true]);
  });

  test("what was deleted can be brought back until its day", async () => {
    const deletedAt = Date.UTC(2026, 9, 1);
    const goesAt = Date.UTC(2026, 9, 31);
    const { user } = await show(
      <Deleted
        things={[
          { kind: "experiment", id: 7, experimentId: 7, name: "Two boxes", deletedAt, goesAt },
          { kind: "run", id: 3, experimentId: 2, name: "Run 1 of Mesh", deletedAt, goesAt },
        ]}
      />,
    );
    expect(plain(document.body)).toMatch(/Two boxes, deleted on .*1.* goes for good on .*31/);
    await user.click(screen.getByRole("button", { name: "Bring back Two boxes" }));
    expect(asked("deleteExperiment")).toEqual([7, false]);
    await user.click(screen.getByRole("button", { name: "Bring back Run 1 of Mesh" }));
    expect(asked("deleteRun")).toEqual([2, 3, false]);
  });

  test("an empty bench says both ways to begin", async () => {
    await show(<Bench experiments={[]} />);
    expect(screen.getByRole("link", { name: /New experiment/ })).toHaveAttribute("href", "/new");
    expect(screen.getByRole("link", { name: /Import a log/ })).toHaveAttribute("href", "/import");
  });
});

describe("the next window", () => {
  const planned = (): TodayView => {
    const { today } = bench();
    if (!today) throw new Error("the demo plans a day");
    return today;
  };

  test("is the plan’s, with who stands where and what to bring", async () => {
    const today = planned();
    await show(<Today today={today} />);
    const text = plain(document.body);
    expect(text).toContain(`Next window:`);
    expect(today.next).not.toBeNull();
    expect(text).toContain(today.next!.name);
    const letters = today.next!.arrangement.map((a) => a.letter);
    expect(letters.length).toBeGreaterThan(1);
    expect(screen.getByRole("link", { name: /Day sheet/ })).toHaveAttribute(
      "href",
      `/experiments/${today.next!.experimentId}/plan/${today.next!.date}`,
    );
    expect(text).toMatch(/Bring .+\./);
  });

  test("without a plan it is the site’s own clear sky, and no day sheet is offered", async () => {
    const today = planned();
    const next = { ...today.next!, experimentId: null, name: "" } as NonNullable<TodayView["next"]>;
    await show(<Today today={{ ...today, next }} />);
    expect(plain(document.body)).toContain("if the sky is clear");
    expect(screen.queryByRole("link", { name: /Day sheet/ })).toBeNull();
  });

  test("no window within 30 days says why", async () => {
    const today = planned();
    await show(<Today today={{ ...today, next: null, none: null }} />);
    expect(plain(document.body)).toMatch(/No window in the next 30 days/);
  });

  test.each([
    [-33.5, -70.25, "33.50° S 70.25° W"],
    [46.31, 9.05, "46.31° N 9.05° E"],
    [0, 0, "0.00° N 0.00° E"],
  ])("a place at %s, %s reads %s", async (latitude, longitude, words) => {
    const today = planned();
    await show(<Today today={{ ...today, site: { ...today.site, latitude, longitude } }} />);
    expect(plain(document.body)).toContain(words);
  });
});

describe("one's own and the demo's", () => {
  const mine = (n: number, more: object = {}): BenchEntry => {
    const [first] = computed(bench().experiments);
    return { ...first, head: { ...first.head, id: 900 + n, name: `Mine ${n}`, demoKey: null, ...more } };
  };
  const names = () =>
    screen
      .queryAllByRole("listitem")
      .map((li) => li.querySelector("a")?.textContent)
      .filter(Boolean);

  test("with nothing of one's own a sentence says what Bravel is, and the demo lies open", async () => {
    const { experiments } = bench();
    await show(<Bench experiments={experiments} />);
    expect(screen.getByText(/^Bravel compares solar heating collectors/)).toBeInTheDocument();
    expect(names()).toHaveLength(experiments.length);
  });

  test("one's own come first and the demo is folded, until it is opened; that is remembered", async () => {
    const { experiments } = bench();
    const { user, unmount } = await show(<Bench experiments={[...experiments, mine(1)]} />);
    expect(screen.queryByText(/^Bravel compares/)).toBeNull();
    expect(names()).toEqual(["Mine 1"]);
    await user.click(screen.getByRole("button", { name: "Demo: Tansy Ridge", expanded: false }));
    expect(names()).toHaveLength(experiments.length + 1);
    expect(names()[0]).toBe("Mine 1");
    unmount();
    await show(<Bench experiments={[...experiments, mine(1)]} />);
    expect(names()).toHaveLength(experiments.length + 1);
  });

  test("the demo goes in one press and comes back by Undo", async () => {
    const { experiments } = bench();
    const { user } = await show(<Bench experiments={experiments} />);
    await user.click(screen.getByRole("button", { name: "Remove the demo" }));
    await settle();
    expect(asked("deleteExperiments")).toEqual([experiments.map((e) => e.head.id), true]);
  });

  test("past twenty there is a search over names, questions and variants", async () => {
    const all = Array.from({ length: 21 }, (_, i) => mine(i, i === 7 ? { question: "Does the gravel bed help?" } : {}));
    const { user } = await show(<Bench experiments={all} />);
    await user.type(screen.getByRole("searchbox", { name: "Search experiments" }), "GRAVEL bed");
    expect(names()).toEqual(["Mine 7"]);
    await user.clear(screen.getByRole("searchbox", { name: "Search experiments" }));
    await user.type(screen.getByRole("searchbox", { name: "Search experiments" }), "zeppelin");
    expect(screen.getByText(/No experiment has “zeppelin”/)).toBeInTheDocument();
    expect(names()).toEqual([]);
  });

  test("a duplicate opens at Ask and says what it lacks", async () => {
    action("duplicateExperiment").mockImplementation(async () => ({ ok: true, id: 77, name: "Mine 1 (2)" }));
    const { user } = await show(<Bench experiments={[mine(1)]} />);
    await user.click(screen.getByRole("button", { name: "Duplicate Mine 1" }));
    await settle();
    expect(asked("duplicateExperiment")).toEqual([901]);
    expect(router.push).toHaveBeenCalledWith("/experiments/77/ask");
  });
});
