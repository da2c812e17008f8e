import type { NextConfig } from "next";

const config: NextConfig = {
  serverExternalPackages: ["knex", "mysql2", "pino"],
  poweredByHeader: false,
  // Types are checked by ./bravel test; who only starts Bravel does not wait for it.
  typescript: { ignoreBuildErrors: true },
  // The tests build apart, so that they never change the files a running Bravel serves.
  distDir: process.env.BRAVEL_DIST ?? ".next",
  headers: () =>
    Promise.resolve([
      {
        // These go past the proxy, which says it everywhere else; so does what answers a method they do not have.
        source: "/api/:path(files|packages|photos/\\d+)",
        headers: [{ key: "content-security-policy", value: "default-src 'none'; frame-ancestors 'none'; sandbox" }],
      },
      {
        source: "/:path*",
        headers: [
          // Nothing of Bravel is for another site's page: not its windows, not its answers, not what the browser may do.
          { key: "x-content-type-options", value: "nosniff" },
          { key: "referrer-policy", value: "same-origin" },
          { key: "x-frame-options", value: "DENY" },
          { key: "cross-origin-opener-policy", value: "same-origin" },
          { key: "cross-origin-resource-policy", value: "same-origin" },
          {
            key: "permissions-policy",
            value: "camera=(), microphone=(), geolocation=(), usb=(), payment=(), browsing-topics=()",
          },
        ],
      },
    ]),
  // Demo logs are large on purpose; the import pages stream them through route handlers, not through actions.
  experimental: { serverActions: { bodySizeLimit: "2mb" } },
};

export default config;
