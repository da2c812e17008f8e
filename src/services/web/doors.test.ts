import { rightTo } from "./doors";

test.each([
  ["GET", "/login"],
  ["POST", "/api/login"],
  ["POST", "/api/readings"],
  ["GET", "/api/rig"],
  ["GET", "/api/health"],
  ["GET", "/view/abc"],
  ["GET", "/sw.js"],
  ["GET", "/icon.svg"],
  ["GET", "/authority.pem"],
  ["HEAD", "/_next/static/chunks/a.js"],
])("%s %s is open: it has a token of its own, leads to the sign-in, or is a part of every page", (method, path) =>
  expect(rightTo(method, path)).toBe("open"),
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
  ["GET", "/network"],
  ["POST", "/network"],
  ["POST", "/api/packages"],
  ["GET", "/new"],
  ["DELETE", "/experiments/7/run"],
  ["GET", "/a/route/added/tomorrow"],
])("%s %s is the owner’s, as everything is that nobody thought of", (method, path) =>
  expect(rightTo(method, path)).toBe("owner"),
);

test.each([
  ["GET", "/", "hand"],
  ["GET", "/import", "hand"],
  ["GET", "/account", "hand"],
  ["GET", "/site/3", "hand"],
  ["POST", "/api/files", "hand"],
  ["POST", "/api/imports", "hand"],
  ["POST", "/api/experiments/7/runs/1/events", "hand"],
  ["POST", "/experiments/7/run", "hand"],
  ["GET", "/experiments/7/run", "viewer"],
  ["GET", "/api/experiments/7/live", "viewer"],
  ["GET", "/api/experiments/7/package", "viewer"],
])("%s %s asks for the %s’s right", (method, path, right) => expect(rightTo(method, path)).toBe(right));
