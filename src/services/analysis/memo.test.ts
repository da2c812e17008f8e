import fc from "fast-check";
import { BoundedMemo, jsonBytes } from "./memo";

describe("a store bounded by bytes", () => {
  test("makes a value once however many ask at a time", async () => {
    const memo = new BoundedMemo(1000);
    let made = 0;
    const make = async () => {
      made++;
      return "value";
    };
    const all = await Promise.all(Array.from({ length: 5 }, () => memo.get("k", make, () => 10)));
    expect(all).toEqual(Array(5).fill("value"));
    expect(made).toBe(1);
    expect(memo.bytes).toBe(10);
  });

  test("a failure is told to all who asked, and not kept", async () => {
    const memo = new BoundedMemo(1000);
    const fails = () => Promise.reject(new Error("the database went away"));
    await expect(memo.get("k", fails, () => 1)).rejects.toThrow("went away");
    await expect(
      memo.get(
        "k",
        async () => 7,
        () => 1,
      ),
    ).resolves.toBe(7);
  });

  test("what was used last stays when room runs out", async () => {
    const memo = new BoundedMemo(25);
    const put = (key: string) =>
      memo.get(
        key,
        async () => key,
        () => 10,
      );
    await put("a");
    await put("b");
    await put("a");
    await put("c");
    let again = 0;
    const count = async () => again++;
    await memo.get("a", count, () => 10);
    expect(again).toBe(0);
    await memo.get("b", count, () => 10);
    expect(again).toBe(1);
  });

  test("never holds more than it may, whatever comes", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 9 }), fc.integer({ min: 1, max: 60 }))),
        async (asks) => {
          const memo = new BoundedMemo(100);
          for (const [key, bytes] of asks) {
            expect(
              await memo.get(
                `${key}`,
                async () => key,
                () => bytes,
              ),
            ).toBe(key);
            await Promise.resolve();
            expect(memo.bytes).toBeLessThanOrEqual(100);
          }
        },
      ),
      { numRuns: 50 },
    );
  });

  test("rough bytes grow with the data", () => {
    expect(jsonBytes({ a: [1, 2, 3] })).toBeGreaterThan(jsonBytes({ a: [1] }));
    expect(jsonBytes(undefined)).toBe(0);
  });
});
