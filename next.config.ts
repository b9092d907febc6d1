import type { NextConfig } from "next";

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  devIndicators: false,
  serverExternalPackages: ["better-sqlite3", "pino"],
  experimental: {
    // The framework hands routes only so much of a body and cuts the rest off without a word: this
    // must stay above every limit of the routes (src/app/api), which refuse what is larger.
    proxyClientMaxBodySize: "24mb",
  },
};

export default config;
