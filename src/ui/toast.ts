/** One that is shown once its script has come: nobody waits for it before anything was said. */
type Kind = "success" | "warning" | "error" | "message";

/** Hears what is said, and draws it; none until the page is alive. */
let listener: ((kind: Kind, text: string, options?: ToastOptions) => void) | null = null;
const early: [kind: Kind, text: string, options?: ToastOptions][] = [];

export interface ToastOptions {
  action?: { label: string; onClick: () => void };
  duration?: number;
  /** One of these at a time. */
  id?: string;
}

/** Whoever draws what is said. @returns ends it */
export function onToast(hear: NonNullable<typeof listener>): () => void {
  listener = hear;
  for (const [kind, text, options] of early.splice(0)) hear(kind, text, options);
  return () => {
    if (listener === hear) listener = null;
  };
}

const say =
  (kind: Kind) =>
  (text: string, options?: ToastOptions): void =>
    listener ? listener(kind, text, options) : void early.push([kind, text, options]);

/** Said for a moment at the foot of the page. */
export const toast = Object.assign(say("message"), {
  success: say("success"),
  warning: say("warning"),
  error: say("error"),
});
