"use client";

import { useState } from "react";
import { cellIrradiance } from "@/core/sun/cell";
import { formatNumber, quantityText } from "@/core/quantity/format";
import type { ProveView } from "@/services/prove/prove";
import { usePreferences } from "@/ui/preferences";
import { QuantityFields } from "@/ui/form/QuantityFields";

/** The sun sensor against the model's clear sky on the clearest windows, and a photovoltaic cell as a sensor. */
export function SunSensor({ prove }: { prove: ProveView }) {
  const { system } = usePreferences();
  const [cell, setCell] = useState({ currentA: 0.42, referenceA: 0.5, cellC: 35 });
  const irradiance = cellIrradiance(cell.currentA, cell.referenceA, cell.cellC);
  const { clearSky } = prove;
  const best = clearSky.length ? Math.max(...clearSky.map((c) => c.ratio)) : null;
  return (
    <details className="no-print">
      <summary className="cursor-pointer py-1 font-semibold text-action">
        Sun sensor{best !== null ? `: at best ${formatNumber(best * 100, 0)} % of the modelled clear sky` : ""}
      </summary>
      {clearSky.length > 0 && (
        <>
          <table className="grid-table max-w-xl">
            <thead>
              <tr>
                <th>day</th>
                <th className="num">measured</th>
                <th className="num">clear sky, modelled</th>
                <th className="num">ratio</th>
              </tr>
            </thead>
            <tbody>
              {clearSky.map((c) => (
                <tr key={c.day}>
                  <th scope="row">{c.day}</th>
                  <td className="num">{quantityText(c.measuredWm2, "irradiance", { system, figures: 3 })}</td>
                  <td className="num">{quantityText(c.modelledWm2, "irradiance", { system, figures: 3 })}</td>
                  <td className="num">{formatNumber(c.ratio, 3)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="side">
            Each day’s clearest window, same plane and geometry. The model itself is good to about 5 % and knows no haze
            of the day: a ratio steady within 0.9 and 1.1 is as it should be; a step between days is dust, tilt or the
            sensor.
          </p>
        </>
      )}
      <fieldset className="mt-1">
        <legend className="text-[13.5px] font-[650]">A photovoltaic cell, short-circuited</legend>
        <div className="grid grid-cols-3 gap-3">
          <QuantityFields
            of={[
              { key: "currentA", label: "Its current now", quantity: "current", min: 0, max: 100 },
              { key: "referenceA", label: "… at 1 000 W/m²", quantity: "current", min: 0.0001, max: 100 },
              { key: "cellC", label: "Cell temperature", quantity: "temperature", min: -40, max: 120 },
            ]}
            value={cell}
            set={(part) => setCell({ ...cell, ...part })}
          />
        </div>
        <p className="pt-1">
          {quantityText(irradiance, "irradiance", { system, expanded: irradiance * 0.05 })}{" "}
          <span className="side">
            ± 5 %: spectrum and angle of a bare cell (typical value); shunt small against the cell, cell in the
            collector plane. A column of its current has the own factor {formatNumber(1000 / cell.referenceA, 0)}
            {"\u2009"}W/m² per ampere at import; of millivolts over a shunt, that over the shunt’s milliohms.
          </span>
        </p>
      </fieldset>
    </details>
  );
}
