import path from "node:path";
import { defineConfig } from "vitest/config";

const alias = {
  "@": path.resolve(import.meta.dirname, "src"),
  "@demo": path.resolve(import.meta.dirname, "demo"),
};

/** What npm test leaves for npm run test:all. */
const tags = [{ name: "long", description: "a variation, or one that takes long" }];

/** Real devices and a real browser are shared things: those suites run one file at a time. */
const shared = {
  tags,
  // A file leaves no setting behind: what all of them import is read once, not once for each file.
  isolate: false,
  fileParallelism: false,
  testTimeout: 400_000,
  hookTimeout: 400_000,
  expect: { poll: { timeout: 180_000 } },
};

export default defineConfig({
  test: {
    projects: [
      {
        resolve: { alias },
        // Two at a time: left to itself the runner keeps one of two cores free.
        test: {
          name: "unit",
          tags,
          include: ["{src,demo,scripts}/**/*.test.ts"],
          testTimeout: 200_000,
          hookTimeout: 200_000,
          expect: { poll: { timeout: 180_000 } },
          maxWorkers: 2,
          // Nothing here changes what it imports: each module is read once, not once for each file.
          isolate: false,
          setupFiles: "tests/support/seed.ts",
        },
      },
      {
        resolve: { alias },
        // Each file has devices of its own, and waits for them much of the time.
        test: {
          name: "devices",
          include: ["tests/devices/**/*.test.ts"],
          ...shared,
          fileParallelism: true,
          maxWorkers: 4,
        },
      },
      {
        resolve: { alias },
        // What is proved by waiting for rates: for a machine that does nothing else (npm run soak).
        test: { name: "rates", include: ["tests/rates/**/*.test.ts"], ...shared },
      },
      {
        resolve: { alias },
        // Each file has a server and a data folder of its own.
        test: {
          name: "server",
          include: ["tests/server/**/*.test.ts"],
          ...shared,
          fileParallelism: true,
          maxWorkers: 2,
        },
      },
      {
        resolve: { alias },
        // Each file has a server, a browser and disks of its own, and waits for them half of the time.
        test: {
          name: "browser",
          include: ["tests/browser/**/*.test.ts"],
          ...shared,
          fileParallelism: true,
          maxWorkers: 4,
          testTimeout: 600_000,
        },
      },
    ],
  },
});
