import { subscribe } from "node:diagnostics_channel";
import type { IncomingMessage } from "node:http";
import { forwardedOf, proxiesOf } from "./forwardedOf";

/**
 * Runs in the server's process before the server: what a request says of where it came from is written anew from the connection itself,
 * before anybody reads it. Only a proxy named in BRAVEL_PROXY (addresses or networks, apart by commas) is believed.
 */
const trusted = proxiesOf(process.env.BRAVEL_PROXY ?? "");
subscribe("http.server.request.start", (message) => {
  const { request } = message as { request: IncomingMessage };
  Object.assign(request.headers, forwardedOf(request.headers, request.socket.remoteAddress ?? "", trusted));
});
