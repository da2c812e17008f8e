import { screen, within } from "@testing-library/react";
import type { VersionView } from "@/services/judge/verdictVersions";
import { asked } from "../../../scripts/testing/screens/asked";
import { stepOf } from "../../../scripts/testing/screens/pages";
import { plain, show } from "../../../scripts/testing/screens/screen";
import { Report } from "./Report";
import { Versions } from "./Versions";

const page = () => stepOf("Absorber shapes", "report");

test("the answer stands first, then everything it rests on, with the fingerprint of the results", async () => {
  const { view, report, worth } = page();
  await show(<Report view={view} report={report!} worth={worth} />);
  const summary = within(screen.getByRole("region", { name: "Summary" }));
  expect(summary.getByRole("heading", { level: 1 })).toBeVisible();
  expect(plain(summary.getByRole("heading", { level: 1 }).parentElement)).toContain(view.head.question);
  for (const name of [
    "Doubts",
    "Specimens",
    "Instruments",
    "Curves",
    "Runs, and what lies over their readings",
    "How it was reckoned",
  ])
    expect(screen.getByRole("region", { name })).toBeInTheDocument();
  expect(plain(screen.getByRole("region", { name: "How it was reckoned" }))).toContain(report!.fingerprint);
  const covariance = screen.getByRole("table", { name: "Coefficients and covariance" });
  expect(within(covariance).getAllByRole("row")).toHaveLength(view.curves.length + 1);
  const instruments = within(screen.getByRole("region", { name: "Instruments" }));
  expect(instruments.getAllByText("sun sensor").length).toBeGreaterThan(0);
  expect(plain(screen.getByRole("region", { name: "Runs, and what lies over their readings" }))).toContain(
    view.runs[0].layers[0].reason,
  );
  expect(screen.getByRole("link", { name: /Package/ })).toHaveAttribute(
    "href",
    `/api/experiments/${view.head.id}/package`,
  );
});

test("a frozen verdict tells what has changed since; freezing asks for nothing but a press", async () => {
  const { view } = page();
  const version: VersionView = {
    id: 1,
    atMs: Date.UTC(2026, 9, 9, 12),
    note: "before the swap",
    fingerprint: "a".repeat(64),
    change: {
      same: false,
      turned: { from: "cannot tell", to: "B first" },
      difference: null,
      points: { from: 40, to: 118 },
      asked: [],
      doubts: { gone: 1, come: 0 },
    },
  };
  const { user } = await show(<Versions view={view} versions={[version]} />);
  expect(plain(screen.getByRole("listitem"))).toContain(
    "Since then it said “cannot tell”, now it is “B first”; 40 points have become 118; 1 doubt went.",
  );
  await user.type(screen.getByLabelText("Note"), "after it");
  await user.click(screen.getByRole("button", { name: /Freeze this verdict/ }));
  expect(asked("freezeVerdict")).toEqual([view.head.id, "after it"]);
});
