import { fireEvent, render, screen } from "@testing-library/react";
import { useEffect, useState } from "react";
import type { Design } from "@/core/collector/design";
import { presetDesign } from "@/core/collector/presets";
import { designProblems } from "@/core/collector/validate";
import { LIBRARY } from "@/core/materials/library";
import { PreferencesProvider } from "@/ui/preferences";
import { BoxEditor } from "./BoxEditor";

const drawn: { last?: Design } = {};

function Board({ begin }: { begin: Design }) {
  const [design, setDesign] = useState(begin);
  useEffect(() => {
    drawn.last = design;
  });
  return (
    <PreferencesProvider system="metric">
      <BoxEditor design={design} materials={new Map(LIBRARY.map((m) => [m.key, m]))} onChange={setDesign} />
    </PreferencesProvider>
  );
}

const type = (label: string, text: string) => {
  const field = screen.getByLabelText(label);
  fireEvent.change(field, { target: { value: text } });
  fireEvent.keyDown(field, { key: "Enter" });
};

describe("mirrors of a box", () => {
  test("are a list: added, stood elsewhere, given dates and cost, and taken away", () => {
    render(<Board begin={presetDesign("corrugated")} />);
    fireEvent.click(screen.getByRole("button", { name: "Add a mirror" }));
    fireEvent.click(screen.getByRole("button", { name: "Add a mirror" }));
    expect(drawn.last!.mirrors).toHaveLength(2);
    expect(new Set(drawn.last!.mirrors.map((m) => m.id)).size).toBe(2);
    fireEvent.change(screen.getAllByLabelText("Stands")[1], { target: { value: "free" } });
    expect(drawn.last!.mirrors[1]).toMatchObject({ stand: "free", free: { awayM: 1, turn: 180 } });
    type("Before the box", "1.5 m");
    expect(drawn.last!.mirrors[1].free!.awayM).toBe(1.5);
    fireEvent.change(screen.getAllByLabelText("Up from")[0], { target: { value: "2026-10-01" } });
    expect(drawn.last!.mirrors[0].up).toEqual({ from: "10-01", until: "10-01" });
    fireEvent.change(screen.getAllByLabelText("Up until")[0], { target: { value: "2026-03-31" } });
    expect(drawn.last!.mirrors[0].up).toEqual({ from: "10-01", until: "03-31" });
    fireEvent.click(screen.getByRole("button", { name: "Take mirror 1 away" }));
    expect(drawn.last!.mirrors.map((m) => m.stand)).toEqual(["free"]);
  });
  test("of no size, or folded flat, are refused where they are typed", () => {
    render(<Board begin={presetDesign("corrugated")} />);
    fireEvent.click(screen.getByRole("button", { name: "Add a mirror" }));
    type("Mirror length", "0");
    expect(screen.getByText(/^At least 0.05/)).toBeTruthy();
    type("Angle to the box", "200");
    expect(screen.getByText(/^At most 179/)).toBeTruthy();
    expect(drawn.last!.mirrors[0]).toMatchObject({ depthM: 1, angle: 110 });
  });
});

describe("a switch on the box", () => {
  test("holds its pair; crossed set points keep the design from being built", () => {
    render(<Board begin={presetDesign("corrugated")} />);
    fireEvent.change(screen.getByLabelText("Switch"), { target: { value: "snap" } });
    expect(drawn.last!.thermostat).toEqual({ kind: "snap", onC: 40, offC: 30 });
    type("Off below", "45");
    expect(drawn.last!.thermostat!.offC).toBe(45);
    expect(designProblems(drawn.last!).map((p) => p.kind)).toContain("thermostatCrossed");
    fireEvent.change(screen.getByLabelText("Switch"), { target: { value: "none" } });
    expect(drawn.last!.thermostat).toBeNull();
  });
});
