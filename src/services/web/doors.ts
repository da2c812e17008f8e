/** What a door asks for: nothing, a viewer's link, a bench hand or the owner. Each right holds those before it. */
export type Right = "open" | "viewer" | "hand" | "owner";

interface Door {
  methods: readonly ("GET" | "POST")[];
  path: RegExp;
  right: Exclude<Right, "owner">;
}

const door = (right: Door["right"], method: "GET" | "POST", ...paths: RegExp[]): Door[] =>
  paths.map((path) => ({ methods: [method], path, right }));

const HANDS_PAGES = /^\/(?:import|sheet|devices|rig|materials|account|site|site\/\d+)?$/;

/**
 * Every door that somebody else than the owner may use, as whole pairs of method and path. What stands in none is the owner's: whoever
 * adds a route need not think of it. A viewer's are those of the link's own experiment. Pages take actions too (POST), each of which asks
 * for its own right again.
 */
const DOORS: readonly Door[] = [
  // What has a token of its own, what leads to the sign-in, and the parts pages are made of.
  ...door("open", "POST", /^\/api\/login$/, /^\/api\/readings$/),
  ...door("open", "GET", /^\/login$/, /^\/api\/(?:rig|health|openapi\.json)$/, /^\/view\/[^/]+$/),
  ...door("open", "GET", /^\/(?:manifest\.webmanifest|sw\.js|icon\.svg|authority\.pem)$/, /^\/_next\/static\/.+/),
  ...door("viewer", "GET", /^\/(?:api\/)?experiments\/\d+(?:\/.*)?$/),
  ...door("hand", "GET", HANDS_PAGES),
  ...door("hand", "POST", HANDS_PAGES, /^\/experiments\/\d+(?:\/.*)?$/),
  ...door("hand", "GET", /^\/api\/(?:files\/\d+|climates\/\d+\/hours|imports|photos\/\d+|places)$/),
  ...door("hand", "POST", /^\/api\/(?:files|imports|photos|logout)$/, /^\/api\/experiments\/\d+\/runs\/\d+\/events$/),
];

/** The right that a request to a path needs. */
export function rightTo(method: string, pathname: string): Right {
  const asked = method === "HEAD" ? "GET" : method;
  return DOORS.find((d) => (d.methods as string[]).includes(asked) && d.path.test(pathname))?.right ?? "owner";
}
