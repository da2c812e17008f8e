import { actionRefusal, refusal } from "./requestGuard";
import { accessOf, cookieHeader, OWNER_COOKIE, passphraseFits, passphraseHash, sealed, VIEWER_COOKIE } from "./session";

const NOW = Date.UTC(2026, 9, 6);
const env = { BRAVEL_SESSION_KEY: "a key of the server", BRAVEL_GUARD: "set" };
const owner = `${OWNER_COOKIE}=${sealed("owner", NOW + 1000, env)}`;
const viewer = `${VIEWER_COOKIE}=${sealed("7", NOW + 1000, env)}`;

describe("sessions", () => {
  test("a passphrase fits its hash alone, however its letters are composed; the hash does not hold it", () => {
    const hash = passphraseHash("warm wool on the terräce");
    expect(passphraseFits("warm wool on the terra\u0308ce", hash)).toBe(true);
    expect(passphraseFits("warm wool on the terrace", hash)).toBe(false);
    expect(hash).not.toContain("wool");
    expect(passphraseHash("same")).not.toBe(passphraseHash("same"));
  });

  test("a sealed cookie opens until its time, under its key, whole", () => {
    expect(accessOf(owner, NOW, env)).toEqual({ kind: "owner" });
    expect(accessOf(`other=1; ${viewer}`, NOW, env)).toEqual({ kind: "viewer", experimentId: 7 });
    expect(accessOf(owner, NOW + 2000, env)).toBeNull();
    expect(accessOf(owner, NOW, { ...env, BRAVEL_SESSION_KEY: "another" })).toBeNull();
    expect(accessOf(owner, NOW, {})).toBeNull();
    for (let i = OWNER_COOKIE.length + 1; i < owner.length; i++) {
      const bent = owner.slice(0, i) + (owner[i] === "x" ? "y" : "x") + owner.slice(i + 1);
      expect(accessOf(bent, NOW, env)).toBeNull();
    }
    // A viewer's seal is no owner's, whatever cookie it is put into.
    expect(accessOf(viewer.replace(VIEWER_COOKIE, OWNER_COOKIE), NOW, env)).toBeNull();
    expect(cookieHeader("a", "b", 1000, true)).toBe("a=b; Path=/; Max-Age=1; HttpOnly; SameSite=Strict; Secure");
  });
});

describe("open to a network", () => {
  const kept = { ...process.env };
  beforeAll(() => Object.assign(process.env, env));
  afterAll(() => {
    for (const key of Object.keys(env)) delete process.env[key];
    Object.assign(process.env, kept);
  });
  const ask = (path: string, cookie = "", method = "GET", more: Record<string, string> = {}) =>
    refusal({
      method,
      url: `http://127.0.0.1:4310${path}`,
      headers: new Headers({ host: "127.0.0.1:4310", cookie, ...more }),
    })?.status ?? null;
  const mine = `${OWNER_COOKIE}=${sealed("owner", Date.now() + 60_000, env)}`;
  const theirs = `${VIEWER_COOKIE}=${sealed("7", Date.now() + 60_000, env)}`;

  test.each([
    "/",
    "/experiments/7/run",
    "/api/files",
    "/api/imports",
    "/api/experiments/7/live",
    "/devices",
    "/api/photos/3",
  ])("%s needs a sign-in, also from this computer's own name", (path) => {
    expect(ask(path)).toBe(401);
    expect(ask(path, "", "POST")).toBe(401);
    expect(ask(path, mine)).toBeNull();
  });

  test.each([
    ["GET", "/login"],
    ["POST", "/api/login"],
    ["POST", "/api/readings"],
    ["GET", "/api/rig"],
    ["GET", "/api/health"],
    ["GET", "/view/abc"],
    ["GET", "/sw.js"],
    ["GET", "/icon.svg"],
    ["HEAD", "/_next/static/chunks/a.js"],
  ])("%s %s is open: it has a token of its own, leads to the sign-in, or is a part of every page", (method, path) =>
    expect(ask(path, "", method)).toBeNull(),
  );

  // What an open page holds is not open: an action is asked for by POST at any page's address.
  test.each([
    ["POST", "/login"],
    ["GET", "/api/login"],
    ["GET", "/api/readings"],
    ["POST", "/view/abc"],
    ["GET", "/view/abc/deeper"],
    ["POST", "/icon.svg"],
    ["POST", "/icon.svgx"],
    ["GET", "/icon.svgx"],
    ["POST", "/sw.js"],
    ["POST", "/manifest.webmanifest"],
    ["POST", "/_next/static/chunks/a.js"],
    ["GET", "/_next/staticx"],
    ["GET", "/_next/image"],
    ["POST", "/api/photos/3/x"],
    ["PUT", "/api/readings"],
  ])("%s %s needs a sign-in, and a viewer's link is none", (method, path) => {
    expect(ask(path, "", method)).toBe(401);
    expect(ask(path, theirs, method)).toBe(403);
  });

  test("a viewer sees one experiment and changes nothing", () => {
    for (const path of ["/experiments/7/judge", "/api/experiments/7/live", "/api/experiments/7/runs/1/traces"])
      expect(ask(path, theirs)).toBeNull();
    for (const path of ["/experiments/70/judge", "/experiments/8/run", "/", "/devices", "/api/imports"])
      expect(ask(path, theirs)).toBe(403);
    expect(ask("/experiments/7/run", theirs, "POST")).toBe(403);
    expect(ask("/api/experiments/7/runs/1/events", theirs, "POST")).toBe(403);
  });

  test("an action is the owner's alone", () => {
    const may = (cookie: string, more: Record<string, string> = {}) =>
      actionRefusal(new Headers({ host: "127.0.0.1:4310", cookie, ...more }));
    expect(may(mine)).toBeNull();
    for (const cookie of ["", theirs]) expect(may(cookie)).toMatch(/Sign in first/);
    expect(may(mine, { origin: "http://elsewhere.example" })).toMatch(/another site/);
  });

  test("another site's page and another host's name are refused whoever is signed in", () => {
    expect(ask("/", mine, "POST", { origin: "http://elsewhere.example" })).toBe(403);
    expect(ask("/", mine, "GET", { host: "rebound.example" })).toBe(421);
  });
});
