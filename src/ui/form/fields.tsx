"use client";

import { useId, type ComponentProps } from "react";

type Native = Omit<ComponentProps<"input">, "onChange" | "value" | "name" | "className" | "width">;

/** A line of text, or several, with its label and what is wrong with it. */
export function TextField({
  label,
  name = label,
  value,
  problem,
  place = "",
  width = "",
  rows,
  onChange,
  ...rest
}: Native & {
  label: string;
  /** What it is called aloud, where that says more than the label. */
  name?: string;
  /** None: the field keeps what is typed itself. */
  value?: string;
  problem?: string | null;
  /** Classes of the field's place in the form. */
  place?: string;
  width?: string;
  /** More than one line. */
  rows?: number;
  onChange: (value: string) => void;
}) {
  const id = useId();
  const common = {
    "aria-label": name,
    ...(problem ? { "aria-invalid": true, "aria-describedby": id } : {}),
    className: `field mt-0.5 ${width}`,
    value,
  };
  return (
    <label className={`text-[13px] font-semibold ${place}`}>
      {label}
      {rows ? (
        <textarea
          {...(rest as ComponentProps<"textarea">)}
          {...common}
          rows={rows}
          onChange={(e) => onChange(e.target.value)}
        />
      ) : (
        <input autoComplete="off" {...rest} {...common} onChange={(e) => onChange(e.target.value)} />
      )}
      {problem && (
        <span id={id} role="alert" className="block text-danger">
          {problem}
        </span>
      )}
    </label>
  );
}
