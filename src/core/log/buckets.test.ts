import fc from "fast-check";
import { bucketEdges, bucketMeans, overviewOf } from "./buckets";

const series = fc.record({
  gaps: fc.array(fc.integer({ min: 1, max: 5000 }), { minLength: 1, maxLength: 700 }),
  left: fc.integer({ min: 2, max: 9 }),
  from: fc.double({ min: -0.2, max: 0.9, noNaN: true }),
  length: fc.double({ min: 0.01, max: 1.5, noNaN: true }),
  buckets: fc.integer({ min: 1, max: 90 }),
});

test("buckets by whole steps are the same as reading by reading, wherever a span begins", () => {
  fc.assert(
    fc.property(series, ({ gaps, left, from, length, buckets }) => {
      const times = Float64Array.from(gaps);
      for (let i = 1; i < times.length; i++) times[i] += times[i - 1];
      const values = times.map((t) => Math.sin(t / 1000) + 20);
      const codes = Uint8Array.from(values, (_, i) => (i % left === 0 ? 3 : 0));
      const end = times[times.length - 1];
      const [a, b] = [from * end, (from + length) * end + 1];
      const edges = bucketEdges(times, a, b, buckets);
      const { mean, out } = bucketMeans(values, codes, overviewOf(values, codes), edges);
      let seen = 0;
      for (let k = 0; k < buckets; k++) {
        const [lo, hi] = [a + (k * (b - a)) / buckets, a + ((k + 1) * (b - a)) / buckets];
        const inside = [...times.keys()].filter(
          (i) => times[i] >= lo && (times[i] < hi || (k === buckets - 1 && times[i] <= b)),
        );
        const kept = inside.filter((i) => codes[i] === 0);
        seen += inside.length;
        expect(out[k]).toBe(inside.length - kept.length);
        if (kept.length) expect(mean[k]).toBeCloseTo(kept.reduce((s, i) => s + values[i], 0) / kept.length, 4);
        else expect(mean[k]).toBeNaN();
      }
      expect(seen).toBe([...times].filter((t) => t >= a && t <= b).length);
    }),
    { numRuns: 200 },
  );
});
