import { action } from "./asked";

/** Stands in for every module of server actions: whatever is imported from it is a mock. What the server makes of it is tested with the commands. */
module.exports = new Proxy({ __esModule: true }, { get: (own, name: string) => (name in own ? true : action(name)) });
