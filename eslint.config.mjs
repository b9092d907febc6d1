import { defineConfig, globalIgnores } from "eslint/config";
import vitals from "eslint-config-next/core-web-vitals";
import typescript from "eslint-config-next/typescript";
import prettier from "eslint-config-prettier";

/**
 * Dependencies point one way (docs/how-it-works.md): each folder names the
 * folders of ours that it must not import.
 */
const walls = {
  core: ["archive", "engine", "services", "store", "publish", "app", "ui", "cli"],
  archive: ["engine", "services", "publish", "app", "ui", "cli"],
  engine: ["archive", "services", "store", "publish", "app", "ui", "cli"],
  store: ["archive", "engine", "services", "publish", "app", "ui", "cli"],
  publish: ["archive", "engine", "services", "store", "app", "cli"],
  services: ["publish", "app", "ui", "cli"],
  ui: ["archive", "engine", "services", "store", "publish", "app", "cli"],
  app: ["archive", "cli", "engine", "store", "publish"],
  cli: ["archive", "app", "ui", "store"],
};

const wall = ([folder, forbidden]) => ({
  files: [`src/${folder}/**/*.{ts,tsx}`],
  ignores: ["**/*.test.*"],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: forbidden.map((name) => ({
          group: [`@/${name}`, `@/${name}/**`, `**/../${name}/**`],
          message: `src/${folder} must not depend on src/${name}.`,
        })),
      },
    ],
  },
});

/** Rules of components, off where there are none: some of them compile a whole file to look at it. */
const OF_COMPONENTS = /^(react|react-hooks|jsx-a11y|@next\/next)\//;
const withoutComponents = {
  files: ["{demo,scripts,tests}/**", "src/{archive,cli,core,engine,services,store}/**"],
  rules: Object.fromEntries(
    [...vitals, ...typescript]
      .flatMap(({ rules }) => Object.keys(rules ?? {}))
      .filter((rule) => OF_COMPONENTS.test(rule))
      .map((rule) => [rule, "off"]),
  ),
};

/** Rules of hooks that need no compiler; npm test has these alone, npm run test:all has all. */
const PLAIN = ["react-hooks/rules-of-hooks", "react-hooks/exhaustive-deps"];
const withoutCompiler = {
  rules: Object.fromEntries(
    vitals
      .flatMap(({ rules }) => Object.keys(rules ?? {}))
      .filter((rule) => rule.startsWith("react-hooks/") && !PLAIN.includes(rule))
      .map((rule) => [rule, "off"]),
  ),
};

export default defineConfig([
  ...vitals,
  ...typescript,
  prettier,
  withoutComponents,
  ...(process.env.NERRIT_QUICK === "1" ? [withoutCompiler] : []),
  {
    rules: {
      "@typescript-eslint/no-unused-vars": [
        "error",
        { argsIgnorePattern: "^_", varsIgnorePattern: "^_" },
      ],
      "@typescript-eslint/consistent-type-imports": "error",
      eqeqeq: "error",
      // A literal that is spread hides from the compiler properties that do not belong there.
      "no-restricted-syntax": [
        "error",
        {
          selector:
            ":matches(SpreadElement, JSXSpreadAttribute) > :matches(ObjectExpression, ArrayExpression)",
          message: "Write the properties or elements themselves.",
        },
        {
          selector: 'ImportDeclaration[source.value="next/link"]',
          message:
            "Take Link of src/ui/controls/link.tsx, which does not ask for pages beforehand.",
        },
      ],
    },
  },
  { files: ["src/ui/controls/link.tsx"], rules: { "no-restricted-syntax": "off" } },
  ...Object.entries(walls).map(wall),
  // A report is a page of its own, not one of the application's.
  {
    files: ["src/publish/**"],
    rules: { "@next/next/no-head-element": "off", "@next/next/no-img-element": "off" },
  },
  {
    files: ["src/core/**/*.ts"],
    ignores: ["**/*.test.*"],
    rules: {
      "no-restricted-globals": ["error", "fetch", "process"],
      "no-restricted-properties": [
        "error",
        { object: "Math", property: "random", message: "The core takes a seed." },
        { object: "Date", property: "now", message: "The core has no clock." },
      ],
    },
  },
  globalIgnores([".next/**", "dist/**", "data/**", "next-env.d.ts", "node_modules/**"]),
]);
