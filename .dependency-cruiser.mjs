/**
 * Which folder may import which (docs/layers.svg). Whatever is imported must lie below, type imports
 * included, and nothing imports itself by a detour. `npm test` holds this, scripts/layers.mjs draws it.
 */

/** The folders of src/core, from the bottom up: each imports only those before it. */
export const CORE = [
  "units",
  "stats",
  "ballast",
  "backup",
  "ledger",
  "chain",
  "gear",
  "run",
  "trace",
  "reading",
  "drills",
  "joint",
  "study",
  "cache",
  "system",
  "elsewhere",
  "network",
  "machine",
  "recording",
  "replay",
  "cross-check",
  "simulate",
  "plan",
  "locate",
  "judge",
  "conclude",
  "drift",
  "demand",
  "exchange",
  "answer",
  "compare",
  "report",
  "archive",
  "preflight",
  "watch",
  "host",
];

/** The rooms of src/core/locate in the same way; locate.ts joins them, and what is found is said by findings. */
const LOCATE = ["hypotheses", "observations", "likelihood", "posterior", "steps"];

const own = "[.]test[.]|/testing/";

const config = {
  forbidden: [
    {
      name: "no-cycle",
      comment: "A file must not import itself by way of others.",
      severity: "error",
      from: {},
      to: { circular: true },
    },
    ...CORE.map((folder, at) => ({
      name: `core-${folder}`,
      comment: `src/core/${folder} may import what lies below it: ${CORE.slice(0, at).join(", ") || "nothing"}.`,
      severity: "error",
      from: { path: `^src/core/${folder}/`, pathNot: own },
      to: { path: "^src/core/", pathNot: `^src/core/(${CORE.slice(0, at + 1).join("|")})/` },
    })),
    ...LOCATE.map((room, at) => ({
      name: `locate-${room}`,
      comment: `src/core/locate/${room} may import what lies below it: ${LOCATE.slice(0, at).join(", ") || "nothing"}.`,
      severity: "error",
      from: { path: `^src/core/locate/${room}/`, pathNot: own },
      to: {
        path: "^src/core/locate/",
        pathNot: `^src/core/locate/(${LOCATE.slice(0, at + 1).join("|")})/`,
      },
    })),
    {
      name: "core-knows-its-folders",
      comment: "A folder of src/core has a place among the layers.",
      severity: "error",
      from: { path: "^src/", pathNot: own },
      to: { path: "^src/core/", pathNot: `^src/core/(${CORE.join("|")})/` },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: { extensions: [".ts", ".tsx", ".mjs"] },
    moduleSystems: ["es6"],
  },
};

export default config;
