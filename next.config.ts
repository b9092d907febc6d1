import { randomUUID } from "node:crypto";
import type { NextConfig } from "next";

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by npm test, before this is built; who starts Nerrit need not wait for it again.
  typescript: { ignoreBuildErrors: true },
  // A page comes with its title, rather than have it follow: it is never without one, not for a moment.
  htmlLimitedBots: /./,
  serverExternalPackages: ["better-sqlite3", "pino"],
  // What one build worked out and kept, another works out anew (services/conclusions/study-brief.ts).
  env: { NERRIT_BUILD: randomUUID() },
  experimental: {
    // The framework hands routes only so much of a body and cuts the rest off without a word: this
    // must stay above every limit of the routes (src/app/api), which refuse what is larger.
    proxyClientMaxBodySize: "72mb",
  },
};

export default config;
