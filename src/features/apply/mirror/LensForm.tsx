"use client";

import { useState } from "react";
import { lensSpot, type Lens } from "@/core/mirror/angles";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";

const LENS: Asked<Lens>[] = [
  { key: "areaM2", label: "Lens", quantity: "area", min: 0.001, max: 10 },
  { key: "focalM", label: "Focal length", quantity: "length", min: 0.05, max: 20 },
  {
    key: "errorMrad",
    label: "Error of its surface, mrad",
    quantity: "number",
    min: 0,
    max: 50,
    hint: "pressed sheet 3 to 6",
  },
  { key: "efficiency", label: "Light that arrives", quantity: "fraction", min: 0.05, max: 1 },
];

/** A lens throws the sun's image: how large, how strong, and that it burns. */
export function LensForm() {
  const [lens, setLens] = useState<Lens>({ areaM2: 0.8, focalM: 1, errorMrad: 4, efficiency: 0.75 });
  const spot = lensSpot(lens);
  return (
    <details>
      <summary className="cursor-pointer text-[15px] font-[650]">A lens instead of a mirror</summary>
      <div className="mt-1 grid grid-cols-2 gap-3 md:grid-cols-4">
        <QuantityFields of={LENS} value={lens} set={(part) => setLens({ ...lens, ...part })} />
      </div>
      <p className="mt-1">
        Spot of {(100 * spot.spotM).toFixed(1)} cm with {Math.round(spot.times)} times the sun,{" "}
        {Math.round(spot.powerW)} W at full sun. It must follow the sun to a degree, and takes beam only.{" "}
        {spot.times > 50 && (
          <b className="text-danger">
            This sets wood and cloth on fire and blinds at a glance: cover it whenever nobody stands by.
          </b>
        )}
      </p>
    </details>
  );
}
