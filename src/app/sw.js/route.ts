import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { answering } from "@/services/web/answering";

export const dynamic = "force-dynamic";

/**
 * The service worker of this build. Its first line names the build, so that every update is another script to the browser: it
 * begins with an empty store, and no part of an older model is ever answered from it.
 */
export const GET = answering(async () => {
  const root = process.cwd();
  const [build, script] = await Promise.all([
    readFile(join(root, process.env.BRAVEL_DIST ?? ".next", "BUILD_ID"), "utf8"),
    readFile(join(root, "src/app/sw.js/worker.js"), "utf8"),
  ]);
  return new Response(`const BUILD = ${JSON.stringify(build.trim())};\n${script}`, {
    headers: {
      "content-type": "text/javascript; charset=utf-8",
      "cache-control": "no-cache",
      // It asks for the parts of pages, and for nothing elsewhere.
      "content-security-policy": "default-src 'self'",
    },
  });
});
