import { spawn } from "node:child_process";
import { basename } from "node:path";
import { build } from "esbuild";

/** Runs a bench as the server is run, compiled to one file: what compiles while it runs also slows it. @returns what it printed */
export async function compiled(entry: string, flags: string[] = [], words: string[] = []): Promise<string> {
  const outfile = `.bravel/bench/${basename(entry, ".ts")}.mjs`;
  await build({
    entryPoints: [entry],
    bundle: true,
    platform: "node",
    format: "esm",
    packages: "external",
    define: { "process.env.BRAVEL_COMPILED": '"yes"' },
    outfile,
    logLevel: "error",
  });
  const child = spawn(process.execPath, [...flags, outfile, ...words], { stdio: ["ignore", "pipe", "inherit"] });
  let out = "";
  child.stdout.on("data", (d: Buffer) => {
    out += d.toString();
    if (!flags.length) process.stdout.write(d);
  });
  await new Promise((done) => child.on("close", done));
  return out;
}
