"use client";

import { useEffect, useRef, type RefObject } from "react";

/** What is wrong with a field, told to its form too: a form with a refused figure in it is not sent with the figure before it. */
export function useValidity<E extends HTMLInputElement>(problem: string | null): RefObject<E | null> {
  const field = useRef<E>(null);
  useEffect(() => field.current?.setCustomValidity(problem ?? ""), [problem]);
  return field;
}
