import { quantityText } from "@/core/quantity/format";
import type { ExperimentView, FlowStepView } from "@/services/page/views";
import { FigureText } from "@/ui/FigureText";
import { LaneMark } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";

/** Lanes that were run at several flows: one figure for each, because windows of unlike flows make no one curve. */
export function FlowSteps({ view: { flowSteps } }: { view: Pick<ExperimentView, "flowSteps"> }) {
  const { system } = usePreferences();
  if (flowSteps.length === 0) return null;
  const flow = (s: FlowStepView) => quantityText(s.flow, "massFlowPerArea", { system, figures: 2 });
  return (
    <div className="overflow-x-auto" role="region" aria-label="One figure for each flow" tabIndex={0}>
      <table className="mt-2 w-full border-collapse text-[14px]" aria-label="Flows a lane was run at">
        <thead>
          <tr className="border-b border-rule text-left text-[13px] text-ink-2">
            <th scope="col">lane</th>
            <th scope="col" className="text-right">
              flow per gross area
            </th>
            <th scope="col" className="text-right">
              efficiency there
            </th>
            <th scope="col" className="text-right">
              windows
            </th>
          </tr>
        </thead>
        <tbody>
          {flowSteps.map((s) => (
            <tr key={`${s.lane}${s.flow}`} className="border-b border-hair">
              <th scope="row" className="py-1 text-left font-normal">
                <LaneMark lane={s.lane} size={11} />
              </th>
              <td className="text-right">{flow(s)}</td>
              <td className="text-right">
                <FigureText figure={s.efficiency} />
              </td>
              <td className="text-right">
                {s.windows} on {s.days} day{s.days === 1 ? "" : "s"}
                {s.main ? <span className="side block">curve and verdict</span> : ""}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="side mt-1">
        These lanes were run at several flows. Windows of unlike flows are no points of one curve: it rests on the flow
        with the most windows.
      </p>
    </div>
  );
}
