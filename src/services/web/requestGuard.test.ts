import { actorFor, isRefusal, refusal } from "./requestGuard";

const request = (method: string, headers: Record<string, string>, path = "/") => ({
  method,
  headers: new Headers(headers),
  url: `http://127.0.0.1:4310${path}`,
});

test.each([
  ["this computer's own names", "GET", { host: "127.0.0.1:4310" }, null],
  ["localhost", "GET", { host: "localhost:4310" }, null],
  ["a foreign name that leads here", "GET", { host: "rebound.example" }, 421],
  ["no name at all", "GET", {}, 421],
  ["a change from our own page", "POST", { host: "localhost:4310", origin: "http://localhost:4310" }, null],
  ["a change from another site's page", "POST", { host: "localhost:4310", origin: "http://elsewhere.example" }, 403],
  ["a change from an origin that is none", "POST", { host: "localhost:4310", origin: "null" }, 403],
  ["reading from another site's page", "GET", { host: "localhost:4310", origin: "http://elsewhere.example" }, null],
  ["a script without an origin", "POST", { host: "localhost:4310" }, null],
])("%s", async (_name, method, headers, status) =>
  expect((await refusal(request(method, headers as Record<string, string>)))?.status ?? null).toBe(status),
);

test("names listed by the owner are served", async () => {
  process.env.BRAVEL_HOSTS = "bench.example, loft.example:8080";
  expect(await refusal(request("GET", { host: "loft.example:8080" }))).toBeNull();
  delete process.env.BRAVEL_HOSTS;
});

test("where Bravel answers this computer only, who sits at it is the owner", async () => {
  const may = await actorFor("owner", new Headers({ host: "127.0.0.1:4310" }));
  expect(isRefusal(may)).toBe(false);
  expect(may).toMatchObject({ role: "owner", name: null });
  const asked = await actorFor("owner", new Headers({ host: "127.0.0.1:4310", origin: "http://elsewhere.example" }));
  expect(asked).toMatchObject({ status: 403, text: expect.stringMatching(/another site/) });
});
