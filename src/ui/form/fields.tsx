"use client";

import { useId, type ReactNode } from "react";
import { Controller, type Control, type FieldPath, type FieldValues } from "react-hook-form";
import type { QuantityId } from "@/core/quantity/quantities";
import { QuantityField } from "../QuantityField";

/** The one set of fields of every form: label, field, and what is wrong with it, said where it stands. */
interface Field<V extends FieldValues> {
  control: Control<V, unknown, V>;
  name: FieldPath<V>;
  label: string;
  /** Classes of the field's place in the form. */
  place?: string;
}

function Frame({
  id,
  label,
  place,
  problem,
  children,
}: {
  id: string;
  label: string;
  place?: string;
  problem?: string;
  children: ReactNode;
}) {
  return (
    <div className={place}>
      <label htmlFor={id} className="block text-[13px] font-semibold">
        {label}
      </label>
      {children}
      {problem && (
        <p id={`${id}-problem`} role="alert" className="text-[13px] text-danger">
          {problem}
        </p>
      )}
    </div>
  );
}

const noted = (id: string, problem?: string) => ({
  "aria-invalid": problem !== undefined,
  "aria-describedby": problem ? `${id}-problem` : undefined,
});

export function TextField<V extends FieldValues>({
  control,
  name,
  label,
  place,
  rows,
  ...rest
}: Field<V> & {
  /** More than one line. */
  rows?: number;
  placeholder?: string;
  maxLength?: number;
  list?: string;
  type?: "text" | "date" | "time";
  autoFocus?: boolean;
}) {
  const id = useId();
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState: { error } }) => {
        const common = { ...rest, ...field, ...noted(id, error?.message), id, className: "field mt-0.5" };
        return (
          <Frame id={id} label={label} place={place} problem={error?.message}>
            {rows ? <textarea {...common} rows={rows} /> : <input {...common} autoComplete="off" />}
          </Frame>
        );
      }}
    />
  );
}

export function SelectField<V extends FieldValues>({
  control,
  name,
  label,
  place,
  options,
}: Field<V> & { options: readonly (readonly [value: string | number, text: string])[] }) {
  const id = useId();
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState: { error } }) => (
        <Frame id={id} label={label} place={place} problem={error?.message}>
          <select
            {...field}
            {...noted(id, error?.message)}
            id={id}
            className="field mt-0.5"
            onChange={(e) => field.onChange(options[e.target.selectedIndex][0])}
          >
            {options.map(([value, text]) => (
              <option key={value} value={value}>
                {text}
              </option>
            ))}
          </select>
        </Frame>
      )}
    />
  );
}

export function CheckField<V extends FieldValues>({ control, name, label, place }: Field<V>) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field: { value, onChange, ...field } }) => (
        <label className={`flex items-end gap-2 pb-1.5 text-[13px] font-semibold ${place ?? ""}`}>
          <input {...field} type="checkbox" className="size-4" checked={value} onChange={onChange} /> {label}
        </label>
      )}
    />
  );
}

/** A measured or stated quantity: text with its unit in, SI out. */
export function SiField<V extends FieldValues>({
  control,
  name,
  label,
  place,
  ...rest
}: Field<V> & { quantity: QuantityId; min?: number; max?: number; hint?: string }) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field }) => (
        <div className={place}>
          <QuantityField
            label={label}
            si={Number.isNaN(field.value as number) ? null : field.value}
            onChange={field.onChange}
            {...rest}
          />
        </div>
      )}
    />
  );
}
