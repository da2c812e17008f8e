import fc from "fast-check";
import { pack, unpack } from "./packed";

test("what is packed comes back as it was, numbers that JSON does not know and texts that look like them too", () => {
  fc.assert(
    fc.property(
      fc.jsonValue().map((v) => ({ v })),
      fc.double(),
      fc.oneof(fc.string(), fc.constantFrom("#NaN", "#+", "##-", "#", "")),
      (v, n, text) => {
        // −0 is 0 to JSON, and to every reader.
        const value = {
          v: JSON.parse(JSON.stringify(v)) as unknown,
          n: n === 0 ? 0 : n,
          list: [n === 0 ? 0 : n, text],
        };
        expect(unpack(pack(value))).toEqual(value);
      },
    ),
  );
});
