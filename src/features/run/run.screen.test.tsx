import { screen, within, waitFor } from "@testing-library/react";
import { Toasts } from "@/ui/Toasts";
import type { RunLayer } from "@/core/experiment/layers";
import { atMinute } from "@/core/log/zone";
import type { ExperimentView, RunView } from "@/services/page/views";
import { action, asked } from "../../../scripts/testing/screens/asked";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { stepOf } from "../../../scripts/testing/screens/pages";
import { Layers } from "./Layers";
import { Runs } from "./Runs";

const shapes = () => stepOf("Absorber shapes", "run").view;
const DAY = { createdAt: Date.UTC(2026, 9, 20), on: true };

async function openLayers(view: ExperimentView, run: RunView) {
  const shown = await show(<Layers view={view} run={run} />);
  await shown.user.click(screen.getByText(/Layers over the readings/));
  return shown;
}

describe("the log list", () => {
  test("says how many runs and rows there are, and who stood where in each", async () => {
    const view = shapes();
    await show(<Runs view={view} />);
    const frames = view.runs.flatMap((r) => r.streams).reduce((sum, s) => sum + s.frames, 0);
    const heading = plain(screen.getByRole("heading", { level: 1 }));
    expect(heading.replace(/ /g, "")).toContain(`${view.runs.length}runswith${frames}loggedrows`);
    for (const run of view.runs) {
      const section = screen.getByRole("region", { name: `Run ${run.number}` });
      for (const [lane, station] of Object.entries(run.stations))
        expect(plain(section)).toContain(`place ${station}: ${lane}`);
      for (const s of run.streams) expect(within(section).getByRole("rowheader", { name: s.name })).toBeVisible();
    }
  });

  test("a stream with faults counts them where it stands; one without says so", async () => {
    const view = shapes();
    const [run] = view.runs;
    const [stream, ...rest] = run.streams;
    const summary = { ...stream.summary, rowsRejected: 3, problemCounts: { badNumber: 3 } } as typeof stream.summary;
    await show(<Runs view={{ ...view, runs: [{ ...run, streams: [{ ...stream, summary }, ...rest] }] }} />);
    const rows = screen.getAllByRole("row").slice(1);
    expect(plain(rows[0])).not.toContain("read without a fault");
    expect(plain(rows[0])).toMatch(/3/);
    expect(plain(rows[1])).toContain("read without a fault");
  });

  test("channels and faults come when asked for, with what each stands for and spans", async () => {
    const view = shapes();
    const [stream] = view.runs[0].streams;
    action("loadStream").mockImplementation(async () => ({
      ranges: stream.channels.map((c, i) => ({ channelNo: c.channelNo, lowest: i, highest: 10 + i })),
      problems: [],
    }));
    const { user } = await show(<Runs view={view} />);
    await user.click(screen.getAllByRole("button", { name: /Show channels/ })[0]);
    await settle();
    expect(asked("loadStream")).toEqual([view.head.id, view.runs[0].id, stream.id]);
    const table = screen.getByRole("table", { name: `Channels of ${stream.name}` });
    const rows = within(table).getAllByRole("row").slice(1);
    expect(rows).toHaveLength(stream.channels.length);
    for (const [i, c] of stream.channels.entries()) {
      expect(plain(rows[i])).toContain(c.name);
      for (const instrument of c.instruments) expect(plain(rows[i])).toContain(instrument);
    }
    await user.click(screen.getByRole("button", { name: /Hide channels/ }));
    expect(screen.queryByRole("table", { name: `Channels of ${stream.name}` })).toBeNull();
  });

  test("a server that does not answer for a file's channels is said, and the page stays", async () => {
    action("loadStream").mockImplementation(async () => {
      throw new Error("away");
    });
    const { user } = await show(
      <>
        <Runs view={shapes()} />
        <Toasts />
      </>,
    );
    await user.click(screen.getAllByRole("button", { name: /Show channels/ })[0]);
    expect(await screen.findByText(/The server did not answer/)).toBeInTheDocument();
    // The answer is said a moment before the button may be pressed again.
    await waitFor(() => expect(screen.getAllByRole("button", { name: /Show channels/ })[0]).toBeEnabled());
  });

  test("a deleted run is only taken out, and can be put back", async () => {
    const view = shapes();
    const { user } = await show(<Runs view={view} />);
    await user.click(screen.getByRole("button", { name: "Delete run 2" }));
    await settle();
    expect(asked("deleteRun")).toEqual([view.head.id, view.runs[1].id, true]);
  });

  test("without a run there is the way to the import, and nothing else", async () => {
    const view = stepOf("Ten ways", "run").view;
    await show(<Runs view={view} />);
    expect(plain(document.body)).toContain("No run yet");
    expect(screen.getByRole("link", { name: /Import a run/ })).toHaveAttribute(
      "href",
      `/import?experiment=${view.head.id}`,
    );
    expect(screen.queryByRole("table")).toBeNull();
  });
});

describe("layers over the readings", () => {
  const more: RunLayer[] = [
    {
      id: 91,
      ...DAY,
      kind: "clock",
      reason: "side by side at noon",
      detail: { streamId: 1, offsetMs: -125000 },
    } as RunLayer,
    {
      id: 92,
      ...DAY,
      on: false,
      kind: "exclusion",
      reason: "a hand before the sensor",
      detail: { lane: "B", fromMs: Date.UTC(2026, 9, 6, 10), toMs: Date.UTC(2026, 9, 6, 10, 5) },
    } as RunLayer,
    {
      id: 93,
      ...DAY,
      kind: "flow",
      reason: "traverse of 12 places",
      detail: { meter: "2-flow", method: "traverse", factor: 0.871, limit: 0.02 },
    } as RunLayer,
  ];
  const withMore = () => {
    const view = shapes();
    const run = { ...view.runs[0], layers: [...view.runs[0].layers, ...more] };
    return { view, run };
  };

  test("stand in their order, each with what it does, its reason and its day", async () => {
    const { view, run } = withMore();
    await openLayers(view, run);
    const items = within(screen.getByRole("list", { name: "Layers of run 1" })).getAllByRole("listitem");
    expect(items.map((i) => i.dataset.layer)).toEqual(run.layers.map((l) => l.kind));
    expect(plain(items[2])).toContain("2 min 5 s fast");
    expect(plain(items[2])).toContain("side by side at noon, 2026-10-20");
    expect(plain(items[3])).toContain("lane B");
    expect(plain(items[4])).toContain("0.871 ± 0.020");
  });

  test("each is turned by its box, but for the first arrangement, without which no reading has a place", async () => {
    const { view, run } = withMore();
    const { user } = await openLayers(view, run);
    const boxes = screen.getAllByRole("checkbox");
    expect(boxes.map((b) => (b as HTMLInputElement).checked)).toEqual(run.layers.map((l) => l.on));
    expect(boxes[run.layers.findIndex((l) => l.kind === "assignment")]).toBeDisabled();
    await user.click(boxes[3]);
    await settle();
    expect(asked("turnLayer")).toEqual([view.head.id, 92, true]);
  });

  test("a slow clock is said in any unit and sent in milliseconds, with its reason", async () => {
    const { view, run } = withMore();
    const { user } = await openLayers(view, run);
    const form = screen.getByRole("group", { name: "A logger’s clock was wrong" });
    await user.selectOptions(within(form).getByRole("combobox", { name: "Logger" }), run.streams[1].name);
    const slow = within(form).getByRole("textbox", { name: /Slow by/ });
    await user.clear(slow);
    await user.type(slow, "2 min");
    await user.type(within(form).getByRole("textbox", { name: "because" }), "phone beside it");
    await user.click(within(form).getByRole("button", { name: "Shift" }));
    await settle();
    expect(asked("shiftClock")).toEqual([
      view.head.id,
      { runId: run.id, streamId: run.streams[1].id, offsetMs: 120000, reason: "phone beside it" },
    ]);
  });

  test("without a reason no clock is shifted", async () => {
    const { view, run } = withMore();
    const { user } = await openLayers(view, run);
    const form = screen.getByRole("group", { name: "A logger’s clock was wrong" });
    await user.click(within(form).getByRole("button", { name: "Shift" }));
    expect(action("shiftClock")).not.toHaveBeenCalled();
  });

  test("a swap puts each lane to the other’s place at the site’s own clock", async () => {
    const { view, run } = withMore();
    const { user } = await openLayers(view, run);
    const form = screen.getByRole("group", { name: /changed places/ });
    await user.selectOptions(within(form).getByRole("combobox", { name: "Lane that moved" }), "A");
    await user.selectOptions(within(form).getByRole("combobox", { name: /changed places with/ }), "C");
    await user.type(within(form).getByRole("textbox", { name: "because" }), "swapped at noon");
    await user.click(within(form).getByRole("button", { name: "Swap" }));
    await settle();
    const day = new Date(run.startMs).toISOString().slice(0, 10);
    const atMs = atMinute(Date.parse(`${day}T12:00:00Z`), 12 * 60, view.head.site.zone);
    expect(asked("swapLanes")).toEqual([
      view.head.id,
      {
        runId: run.id,
        atMs,
        lanes: ["A", "C"],
        reason: "swapped at noon",
      },
    ]);
  });

  test("a lane cannot change places with itself", async () => {
    const { view, run } = withMore();
    const { user } = await openLayers(view, run);
    const form = screen.getByRole("group", { name: /changed places/ });
    await user.selectOptions(within(form).getByRole("combobox", { name: /changed places with/ }), "A");
    await user.selectOptions(within(form).getByRole("combobox", { name: "Lane that moved" }), "A");
    expect(within(form).getByRole("button", { name: "Swap" })).toBeDisabled();
  });

  test("one lane alone is offered no swap", async () => {
    const { view, run } = withMore();
    await openLayers(view, { ...run, stations: { A: 1 } });
    expect(screen.queryByRole("group", { name: /changed places/ })).toBeNull();
  });
});
