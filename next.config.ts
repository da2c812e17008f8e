import type { NextConfig } from "next";

const config: NextConfig = {
  serverExternalPackages: ["knex", "mysql2", "pino"],
  poweredByHeader: false,
  // The tests build apart, so that they never change the files a running Bravel serves.
  distDir: process.env.BRAVEL_DIST ?? ".next",
  // Demo logs are large on purpose; the import pages stream them through route handlers, not through actions.
  experimental: { serverActions: { bodySizeLimit: "2mb" } },
};

export default config;
