/** A store of derived results, bounded by the bytes they hold: the least recently used go first. Losing one costs time, never an answer. */
export class BoundedMemo {
  private readonly entries = new Map<string, { value: Promise<unknown>; bytes: number }>();
  private held = 0;

  constructor(private readonly mostBytes: number) {}

  /**
   * The value under a key, made once however many ask at a time. A failure is not kept.
   * @param bytesOf size of a made value, bytes; larger than the whole store is not kept
   */
  get<T>(key: string, make: () => Promise<T>, bytesOf: (value: T) => number): Promise<T> {
    const known = this.entries.get(key);
    if (known) {
      this.entries.delete(key);
      this.entries.set(key, known);
      return known.value as Promise<T>;
    }
    const value = make();
    this.entries.set(key, { value, bytes: 0 });
    value.then(
      (made) => this.settle(key, value, bytesOf(made)),
      () => this.forget(key, value),
    );
    return value;
  }

  /** Bytes held now. */
  get bytes(): number {
    return this.held;
  }

  private settle(key: string, value: Promise<unknown>, bytes: number): void {
    const entry = this.entries.get(key);
    if (entry?.value !== value) return;
    entry.bytes = bytes;
    this.held += bytes;
    for (const [oldest, { bytes: size }] of this.entries) {
      if (this.held <= this.mostBytes) break;
      // What is still being made has no size yet and is wanted by somebody.
      if (size > 0) this.drop(oldest, size);
    }
  }

  private forget(key: string, value: Promise<unknown>): void {
    if (this.entries.get(key)?.value === value) this.entries.delete(key);
  }

  private drop(key: string, bytes: number): void {
    this.entries.delete(key);
    this.held -= bytes;
  }
}

/** Rough bytes of plain data by its JSON: for small results only. */
export const jsonBytes = (value: unknown): number => 2 * (JSON.stringify(value)?.length ?? 0);
