import { forwardedOf, proxiesOf } from "./forwardedOf";

const of = (remote: string, headers: Record<string, string>, proxies = "") => {
  const told = forwardedOf(headers, remote, proxiesOf(proxies));
  return [told["x-forwarded-for"], told["x-forwarded-proto"]];
};

test.each([
  ["nobody in between", "10.0.0.7", {}, "", ["10.0.0.7", "http"]],
  ["a client that says it is another", "10.0.0.7", { "x-forwarded-for": "1.2.3.4" }, "", ["10.0.0.7", "http"]],
  ["a client that says it is encrypted", "10.0.0.7", { "x-forwarded-proto": "https" }, "", ["10.0.0.7", "http"]],
  [
    "a proxy that was named",
    "10.0.0.2",
    { "x-forwarded-for": "192.0.2.9", "x-forwarded-proto": "https" },
    "10.0.0.2",
    ["192.0.2.9", "https"],
  ],
  [
    "a client behind it that says it is another",
    "10.0.0.2",
    { "x-forwarded-for": "1.2.3.4, 192.0.2.9" },
    "10.0.0.2",
    ["192.0.2.9", "http"],
  ],
  [
    "two proxies of one network",
    "10.0.0.2",
    { "x-forwarded-for": "192.0.2.9, 10.0.0.3" },
    "10.0.0.0/8",
    ["192.0.2.9", "http"],
  ],
  ["an address written as another kind’s", "::ffff:10.0.0.7", {}, "", ["10.0.0.7", "http"]],
  ["a proxy of the newer kind", "fd00::2", { "x-forwarded-for": "192.0.2.9" }, "fd00::/8", ["192.0.2.9", "http"]],
  ["a named proxy that says nothing", "10.0.0.2", {}, "10.0.0.2", ["10.0.0.2", "http"]],
  [
    "a named proxy that says no address",
    "10.0.0.2",
    { "x-forwarded-for": "me, <b>" },
    "10.0.0.2",
    ["10.0.0.2", "http"],
  ],
] as const)("%s", (_, remote, headers, proxies, told) => expect(of(remote, headers, proxies)).toEqual(told));

test.each(["somewhere", "10.0.0.0/33", "10.0.0.0/x", "fd00::/129", "10.0.0.1 10.0.0.2"])(
  "%s is no proxy, and is said at the start",
  (list) => expect(() => proxiesOf(list)).toThrow(/BRAVEL_PROXY holds .* must be an address, or a network/),
);

test("what else a client says of its way is gone", () => {
  const told = forwardedOf(
    { "x-forwarded-host": "elsewhere.example", forwarded: "for=1.2.3.4" },
    "10.0.0.7",
    proxiesOf(""),
  );
  expect(told).toMatchObject({ "x-forwarded-host": undefined, forwarded: undefined });
});
