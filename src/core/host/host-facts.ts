import * as z from "zod";

const word = z.string().max(300);
const MOST_BYTES = 2 ** 60;

/** What was found out about a host, as it said it itself. */
export const HostFacts = z.object({
  /** What it calls itself. */
  name: word,
  /** "Linux". */
  system: word,
  /** Of its kernel. */
  release: word,
  /** "x86_64". */
  architecture: word,
  processor: word.nullable(),
  cores: z.number().int().positive().max(65_536).nullable(),
  memoryBytes: z.number().nonnegative().max(MOST_BYTES).nullable(),
  /** The runtime that the measuring process needs: the newest that was found; null for none. */
  node: z.object({ path: word, version: word }).nullable(),
  /** A C compiler's path. */
  compiler: word.nullable(),
  /** Where what is sent there is kept; null where nothing can be written. */
  cache: z
    .object({
      folder: word,
      freeBytes: z.number().nonnegative().max(MOST_BYTES).nullable(),
      /** What lies there by name: measuring processes that were sent before, among others. */
      kept: z.array(word).max(1000),
    })
    .nullable(),
  /** How far its clock is ahead of this machine's, and how exactly that is known, milliseconds. */
  clock: z.object({ aheadMs: z.number(), uncertainMs: z.number().nonnegative() }).nullable(),
  /** From a question to its answer, the shortest of several, milliseconds. */
  roundTripMs: z.number().nonnegative().nullable(),
});
export type HostFacts = z.infer<typeof HostFacts>;

/** What a host says of itself at once; its clock is asked for apart. */
export type SaidByHost = Omit<HostFacts, "clock" | "roundTripMs">;

/** Said before and after, so that what a host greets with is told apart. */
export const FACTS_BEGIN = "nerrit-facts";
export const FACTS_END = "nerrit-facts-end";

/** Where a runtime is looked for beside the places that a login without a terminal knows. */
const NODES = [
  "node",
  "/usr/local/bin/node",
  "/opt/*/bin/node",
  '"$HOME"/.nvm/versions/node/*/bin/node',
  '"$HOME"/.local/bin/node',
];

/**
 * The question, for any POSIX shell (IEEE Std 1003.1, Shell and Utilities), small ones included. It is one line
 * without single quotes, so that it can be an argument of `sh -c '...'` whatever the tester's own shell is there.
 */
export const FACTS_QUESTION = [
  `echo ${FACTS_BEGIN}`,
  'echo "name $(uname -n)"',
  'echo "system $(uname -s)"',
  'echo "release $(uname -r)"',
  'echo "architecture $(uname -m)"',
  'echo "processor $(sed -n "s/^model name[^:]*: *//p" /proc/cpuinfo 2>/dev/null | head -n 1)"',
  'echo "cores $(getconf _NPROCESSORS_ONLN 2>/dev/null || grep -c ^processor /proc/cpuinfo 2>/dev/null)"',
  'echo "memory $(sed -n "s/^MemTotal: *//p" /proc/meminfo 2>/dev/null)"',
  `for n in ${NODES.join(" ")}; do v=$("$n" --version 2>/dev/null </dev/null) && echo "node $v $(command -v "$n")"; done`,
  'for c in cc gcc clang; do p=$(command -v "$c") && echo "compiler $p" && break; done',
  'd="${XDG_CACHE_HOME:-$HOME/.cache}/nerrit"',
  'if mkdir -p "$d" 2>/dev/null && ( : >"$d/.try" ) 2>/dev/null && rm "$d/.try"; then echo "cache $d"; df -Pk "$d" 2>/dev/null | sed -n "2s/^/room /p"; ls "$d" | sed "s/^/kept /"; fi',
  `echo ${FACTS_END}`,
].join("; ");

/** The version of a runtime as numbers, "v20.19.1": 20, 19, 1. */
const numbersOf = (version: string) => version.replace(/^v/, "").split(".").map(Number);

function newerFirst(a: { version: string }, b: { version: string }): number {
  const [x, y] = [numbersOf(a.version), numbersOf(b.version)];
  for (let i = 0; i < 3; i++) if (x[i] !== y[i]) return (y[i] ?? 0) - (x[i] ?? 0);
  return 0;
}

/**
 * Reads a host's answer to the question.
 *
 * @param lines what came between the two marks
 */
export function readFacts(lines: readonly string[]): SaidByHost {
  const all = (key: string) =>
    lines.flatMap((line) =>
      line.startsWith(`${key} `)
        ? [
            line
              .slice(key.length + 1)
              .trim()
              .slice(0, 300),
          ]
        : [],
    );
  const one = (key: string) => all(key)[0] || null;
  const number = (text: string | null | undefined, most: number) => {
    const value = text && /^\d+$/.test(text) ? Number(text) : NaN;
    return value > 0 && value <= most ? value : null;
  };
  const nodes = all("node").flatMap((text) => {
    const [version, ...path] = text.split(" ");
    return /^v\d+\.\d+\.\d+/.test(version!) && path[0]?.startsWith("/")
      ? [{ version: version!, path: path.join(" ") }]
      : [];
  });
  const folder = one("cache");
  const free = /^\S.* \d+ +\d+ +(\d+) +\d+% /.exec(one("room") ?? "")?.[1];
  const memory = number(/^(\d+) kB$/.exec(one("memory") ?? "")?.[1], 2 ** 50);
  return {
    name: one("name") ?? "",
    system: one("system") ?? "",
    release: one("release") ?? "",
    architecture: one("architecture") ?? "",
    processor: one("processor"),
    cores: number(one("cores"), 65_536),
    memoryBytes: memory === null ? null : memory * 1024,
    node: nodes.toSorted(newerFirst)[0] ?? null,
    compiler: one("compiler"),
    cache:
      folder === null
        ? null
        : {
            folder,
            freeBytes: free === undefined ? null : Number(free) * 1024,
            kept: all("kept").slice(0, 1000),
          },
  };
}
