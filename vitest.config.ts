import path from "node:path";
import { defineConfig } from "vitest/config";

const alias = {
  "@": path.resolve(import.meta.dirname, "src"),
  "@demo": path.resolve(import.meta.dirname, "demo"),
};

/** Real devices and a real browser are shared things: those suites run one file at a time. */
const shared = { fileParallelism: false, testTimeout: 120_000, hookTimeout: 120_000 };

export default defineConfig({
  test: {
    projects: [
      {
        resolve: { alias },
        test: { name: "unit", include: ["{src,demo}/**/*.test.ts"], testTimeout: 60_000 },
      },
      {
        resolve: { alias },
        test: { name: "devices", include: ["tests/devices/**/*.test.ts"], ...shared },
      },
      {
        resolve: { alias },
        test: { name: "server", include: ["tests/server/**/*.test.ts"], ...shared },
      },
      {
        resolve: { alias },
        test: { name: "browser", include: ["tests/browser/**/*.test.ts"], ...shared },
      },
    ],
  },
});
