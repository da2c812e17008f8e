import { screen } from "@testing-library/react";
import { useState } from "react";
import { show } from "../../../scripts/testing/screens/screen";
import { Begins } from "./Begins";
import type { ImportDraft } from "./draft";

const live = { streamId: 1, device: "logger", startMs: Date.UTC(2026, 9, 5, 6), firstMs: 0, nowMs: 0 };
function Held({ first, told }: { first: Partial<ImportDraft>; told: (d: Partial<ImportDraft>) => void }) {
  const [draft, setDraft] = useState({
    target: "new",
    siteId: null,
    files: [{ live, settings: { zone: "Europe/Zurich" } }],
    ...first,
  } as unknown as ImportDraft);
  const change = (part: Partial<ImportDraft>) => {
    told(part);
    setDraft((d) => ({ ...d, ...part }));
  };
  return <Begins draft={draft} onChange={change} />;
}

test("a span is typed on the site's clock, once there is a site, and says since when there are readings", async () => {
  const told = jest.fn();
  const { user } = await show(<Held first={{ siteId: 3 }} told={told} />);
  expect(screen.queryByLabelText("Run from")).toBeNull();
  await user.click(screen.getByRole("radio", { name: "at a time" }));
  await user.type(screen.getByLabelText("Run from"), "2026-10-05T09:30");
  expect(told).toHaveBeenLastCalledWith({ liveSpan: { from: "2026-10-05T09:30", until: "" } });
  expect(document.body.textContent).toMatch(
    /on the clock of Europe\/Zurich; an empty end goes on; readings since 5 Oct/,
  );
});

test("without a site there is no clock to type on", async () => {
  await show(<Held first={{ liveFrom: "span" }} told={jest.fn()} />);
  expect(screen.queryByLabelText("Run from")).toBeNull();
  expect(document.body.textContent).toContain("Choose the site first");
});

test("a log of the past has no beginning to choose", async () => {
  await show(<Held first={{ files: [] }} told={jest.fn()} />);
  expect(screen.queryByRole("radio")).toBeNull();
});
