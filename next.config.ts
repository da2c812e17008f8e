import type { NextConfig } from "next";

const config: NextConfig = {
  serverExternalPackages: ["knex", "mysql2"],
  poweredByHeader: false,
  // Demo logs are large on purpose; the import pages stream them through route handlers, not through actions.
  experimental: { serverActions: { bodySizeLimit: "2mb" } },
};

export default config;
