import type { KeyboardEvent } from "react";

/** Enter in a field takes what was typed; it does not send the form with what stood there before. */
export function holdEnter(e: KeyboardEvent<HTMLFormElement>): void {
  if (e.key === "Enter" && (e.target as HTMLElement).tagName === "INPUT") e.preventDefault();
}
