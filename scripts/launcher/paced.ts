import http, { type RequestListener } from "node:http";
import { opensStream, Turns } from "./turns";

/**
 * Runs in the server's process before the server: a crowd that opens the live bench at once, as after a restart, is let in one by one.
 * Opening a stream takes some milliseconds of the one thread that answers everything else.
 */
const EVERY_MS = 10;
const MOST_WAITING = 2000;
const turns = new Turns(EVERY_MS, MOST_WAITING);
const createServer = http.createServer;

const paced =
  (serve: RequestListener): RequestListener =>
  (request, response) => {
    if (!opensStream(request.url ?? "")) return serve(request, response);
    const isLetIn = turns.take(
      () => void serve(request, response),
      () => request.socket.destroyed,
    );
    if (!isLetIn) response.writeHead(503, { "retry-after": "15" }).end();
  };

Object.assign(http, {
  createServer: (...given: unknown[]) =>
    (createServer as (...args: unknown[]) => http.Server)(
      ...given.map((arg) => (typeof arg === "function" ? paced(arg as RequestListener) : arg)),
    ),
});
