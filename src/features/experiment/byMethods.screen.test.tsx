import { screen, within } from "@testing-library/react";
import type { MethodsView } from "@/services/page/methodsView";
import { asked } from "../../../scripts/testing/screens/asked";
import { stepOf } from "../../../scripts/testing/screens/pages";
import { plain, settle, show } from "../../../scripts/testing/screens/screen";
import { ByMethods } from "./ByMethods";

const view = () => stepOf("Absorber shapes", "read").view;
const heat = (si: number, expanded: number) => ({ si, expanded, quantity: "heatFlux" }) as const;
const FOUND: MethodsView = {
  withoutDays: [
    { day: "2026-10-05", kind: "winner", best: ["B"], difference: heat(40, 22), turned: false },
    { day: "2026-10-08", kind: "cannotTell", best: ["A"], difference: heat(5, 22), turned: true },
  ],
  schools: [
    {
      name: "difference",
      lane: "A",
      other: "B",
      steady: heat(-43, 21),
      dynamic: heat(-90, 20),
      apart: true,
      bend: false,
    },
    { name: "heatAtPoint", lane: "A", other: null, steady: null, dynamic: heat(411, 21), apart: false, bend: false },
  ],
  methods: [
    {
      name: "timeConstant",
      findings: [
        {
          name: "tau",
          lane: "A",
          other: null,
          figure: { si: 200, expanded: 20, quantity: "duration" },
          days: 2,
          hours: 1,
          event: null,
        },
      ],
      gaps: [{ lane: "B", why: "noStep" }],
    },
    {
      name: "mirrorOnOff",
      findings: [
        {
          name: "eventRatio",
          lane: "C",
          other: null,
          figure: { si: 1.06, expanded: 0.01, quantity: "number" },
          days: 1,
          hours: 3,
          event: { kind: "coverCleaned", atMs: Date.UTC(2026, 9, 5, 10), times: 1 },
        },
      ],
      gaps: [],
    },
    { name: "batch", findings: [], gaps: [{ lane: "D", why: "noTankMass" }] },
  ],
};
const answer = jest.fn(async () => ({ ok: true, json: async () => FOUND }) as Response);
beforeEach(() => {
  answer.mockClear();
  global.fetch = answer as unknown as typeof fetch;
});

test("asked for, every method tells what it found, or why it did not and what is needed", async () => {
  const { user } = await show(<ByMethods view={view()} />);
  expect(answer).not.toHaveBeenCalled();
  await user.click(screen.getByRole("button", { name: "Read by every method" }));
  await settle();
  const schools = within(screen.getByRole("table", { name: "Two schools" }));
  expect(plain(schools.getAllByRole("row")[1])).toContain("apart");
  expect(plain(screen.getByRole("region", { name: "By other methods" }))).toContain("In 1 figure the schools differ");
  const left = screen.getByRole("list", { name: "With one day left out" });
  expect(within(left).getAllByRole("listitem")).toHaveLength(2);
  expect(plain(left.parentElement)).toContain("Without 2026-10-08 another lane has the highest value");
  const of = (method: string) => plain(document.querySelector(`[data-method=${method}]`));
  expect(of("timeConstant")).toMatch(/time constant.*A.*3.3 ± 0.3 min|time constant.*200 ± 20 s/);
  expect(of("timeConstant")).toContain("B: no cover was laid on");
  expect(of("mirrorOnOff")).toContain("cover cleaned: heat after ÷ before");
  await user.type(screen.getByLabelText("Water in the tank of D"), "120 kg{Enter}");
  await settle();
  expect(asked("changeSettings")).toEqual([
    view().head.id,
    { tanks: { D: { massKg: 120, limitShare: 0.02 } } },
    { tanks: {} },
  ]);
});

test("beside the verdict only the two schools; a refusal is a sentence", async () => {
  const { user } = await show(<ByMethods view={view()} only="schools" />);
  answer.mockImplementationOnce(
    async () => ({ ok: false, json: async () => ({ error: "There is no such experiment." }) }) as Response,
  );
  await user.click(screen.getByRole("button", { name: "Compare by all daylight" }));
  await settle();
  expect(screen.getByText("There is no such experiment.")).toBeVisible();
});
