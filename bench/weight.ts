import { gzipSync } from "node:zlib";
import { chromium } from "@playwright/test";

/**
 * Script that a browser loads with each main view until it is quiet, gzipped, kB, workers apart:
 * `npx tsx bench/weight.ts http://127.0.0.1:4310`. Also whether the answer stands in the page before any script ran.
 */
const address = process.argv[2] ?? "http://127.0.0.1:4310";
const LIMIT = 300;

const browser = await chromium.launch({
  executablePath: process.env.BRAVEL_CHROMIUM ?? "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage", "--disable-background-networking"],
});
const home = await (await fetch(address)).text();
const first = /\/experiments\/(\d+)/.exec(home)?.[1] ?? "1";
const steps = ["ask", "build", "prove", "plan", "run", "read", "judge", "apply"];
const views = ["/", ...steps.map((s) => `/experiments/${first}/${s}`), "/import", "/materials", "/new", "/site"];
let over = 0;
for (const view of views) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const loaded: Promise<number>[] = [];
  page.on("response", (r) => {
    if (/\.js(\?|$)/.test(r.url()) && r.request().resourceType() === "script")
      loaded.push(
        r.body().then(
          (b) => gzipSync(b, { level: 6 }).length,
          () => 0,
        ),
      );
  });
  await page.goto(new URL(view, address).href, { waitUntil: "networkidle" });
  const sizes = await Promise.all(loaded);
  await page.close();
  const plain = await browser.newPage({ javaScriptEnabled: false });
  await plain.goto(new URL(view, address).href);
  const sentence = (await plain.locator("h1").allInnerTexts()).join(" ").trim();
  await plain.close();
  const kB = sizes.reduce((a, b) => a + b, 0) / 1000;
  if (kB > LIMIT) over++;
  console.log(
    `${view.padEnd(24)} ${kB.toFixed(0).padStart(5)} kB in ${sizes.length} scripts${kB > LIMIT ? "  over" : ""}; without script: ${sentence.slice(0, 70) || "nothing"}`,
  );
}
await browser.close();
process.exit(over ? 1 : 0);
