import type { ComponentProps } from "react";

/** One button for every form: it sends nothing unless it is of type submit. */
export function Button({
  kind,
  className = "",
  ...rest
}: ComponentProps<"button"> & { kind?: "main" | "plain" | "doubt" }) {
  return <button type="button" {...rest} className={`btn ${kind ? `btn-${kind}` : ""} ${className}`} />;
}
