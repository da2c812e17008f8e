/** A computing thread ended in the middle of its work: out of memory, or a fault in it. The next question begins another. */
export class ThreadEnded extends Error {
  constructor(cause: unknown) {
    super("Bravel’s computing thread ended before it answered. Look whether it was done before you try again.", {
      cause,
    });
  }
}
