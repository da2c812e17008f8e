import { act, render, type RenderResult } from "@testing-library/react";
import userEvent, { PointerEventsCheckLevel, type UserEvent } from "@testing-library/user-event";
import { PreferencesProvider } from "@/ui/preferences";
import { answers } from "@/ui/useWorkerAnswer";
import { forget } from "./asked";
import { place, router } from "./navigation";

/** Everything a test may have left behind. */
export function clear(): void {
  forget();
  answers.clear();
  for (const mock of Object.values(router)) mock.mockReset();
  Object.assign(place, { path: "/", search: "" });
}

/** Shows a screen in a system of units and lets what it computes on its own come to rest. */
export async function show(
  node: React.ReactElement,
  system: "metric" | "us" = "metric",
): Promise<RenderResult & { user: UserEvent; again: (node: React.ReactElement) => void }> {
  const around = (inner: React.ReactElement) => <PreferencesProvider system={system}>{inner}</PreferencesProvider>;
  const shown = render(around(node));
  await settle();
  // Whether an element can be pressed through what lies above it is a browser's question: asked here it takes most of the time.
  const user = userEvent.setup({ pointerEventsCheck: PointerEventsCheckLevel.Never });
  return { ...shown, user, again: (next) => shown.rerender(around(next)) };
}

/** Lets pending work of the screen finish. */
export const settle = async (): Promise<void> => {
  await act(async () => {
    await new Promise((done) => setTimeout(done, 0));
  });
};

/** A text as a reader sees it: thin spaces and breaks are spaces. */
export const plain = (node: Element | null): string =>
  (node?.textContent ?? "").replace(/[\s\u2009\u00a0\u202f]+/g, " ").trim();
