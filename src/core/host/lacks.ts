import { formatSize } from "../units/size";
import { formatNumber } from "../units/number";
import type { HostFacts } from "./host-facts";

/** What Nerrit's own package.json asks of the runtime. */
export const NODE_NEEDED = "20.19";
/** What is sent there, with room to compile. */
export const ROOM_NEEDED = 8e6;
/** A clock that is further off is worth a word; the times of runs are the host's own. */
const CLOCK_MS = 2000;

/** Something that a host does not have, and what works without it. */
export interface Lack {
  what: string;
  without: string;
}

/** Whether the runtime there is one that the measuring process runs on. */
export function runsEngine({ node }: Pick<HostFacts, "node">): boolean {
  if (!node) return false;
  const [major, minor] = node.version.replace(/^v/, "").split(".").map(Number);
  const [needed, neededMinor] = NODE_NEEDED.split(".").map(Number);
  return major! > needed! || (major === needed && minor! >= neededMinor!);
}

/** What measures on a host: the whole measuring process, or the small program, which needs no Node. */
export type MeasuredBy = "engine" | "program";

/**
 * What would measure on a host as it is.
 *
 * @param architecture of this machine, by the same name as the host's
 * @returns null where nothing would
 */
export function measuredBy(facts: HostFacts, architecture: string): MeasuredBy | null {
  if (facts.system !== "Linux" || !hasRoom(facts.cache)) return null;
  if (runsEngine(facts)) return "engine";
  return facts.architecture === architecture || facts.compiler ? "program" : null;
}

const hasRoom = (cache: HostFacts["cache"]): boolean =>
  cache !== null && (cache.freeBytes === null || cache.freeBytes >= ROOM_NEEDED);

/**
 * What is missing on a host, the gravest first.
 *
 * @param architecture of this machine, by the same name as the host's
 */
export function lacksOf(facts: HostFacts, architecture: string): Lack[] {
  const { name, system, node, cache, compiler, clock } = facts;
  const lacks: Lack[] = [];
  if (system !== "Linux")
    lacks.push({
      what: `${name} runs ${system || "a system that says no name"}, not Linux.`,
      without: "The small measuring program measures there (Measure elsewhere).",
    });
  if (!runsEngine(facts))
    lacks.push({
      what: node
        ? `Node ${node.version} is too old: ${NODE_NEEDED} or later is needed.`
        : "There is no Node, at least where a login without a terminal finds it.",
      without: withoutNode(measuredBy(facts, architecture)),
    });
  if (cache === null)
    lacks.push({
      what: "No file can be written in the cache folder (~/.cache/nerrit, or below XDG_CACHE_HOME).",
      without: "Nothing can be sent there: it is only looked at.",
    });
  else if (!hasRoom(cache))
    lacks.push({
      what: `${cache.folder} has ${formatSize(cache.freeBytes!, 1000)} free; ${formatSize(ROOM_NEEDED, 1000)} are needed.`,
      without: "Nothing is sent there until there is room.",
    });
  // Where nothing can be measured, how well that would go is no matter.
  if (
    measuredBy(facts, architecture) === "engine" &&
    !compiler &&
    facts.architecture !== architecture
  )
    lacks.push({
      what: `There is no C compiler, and its processor (${facts.architecture}) is not this machine's (${architecture}).`,
      without:
        "Measuring works; small requests cost more processor time there, and record does not work.",
    });
  if (clock && Math.abs(clock.aheadMs) - clock.uncertainMs > CLOCK_MS)
    lacks.push({
      what: `Its clock is ${spanOf(Math.abs(clock.aheadMs))} ${clock.aheadMs > 0 ? "ahead" : "behind"}.`,
      without: "Runs keep the host's own time; how far it was off is kept beside it.",
    });
  return lacks;
}

const withoutNode = (by: MeasuredBy | null): string =>
  by === null
    ? "The small measuring program measures there, by hand (Measure elsewhere)."
    : "The small measuring program measures there by itself. The program measures one drive at a time, does no recorded work, and does not see what is plugged in.";

const UNITS: [string, number][] = [
  ["days", 86_400_000],
  ["hours", 3_600_000],
  ["minutes", 60_000],
  ["seconds", 1000],
];

/** "12.3 seconds", "340 days" */
function spanOf(ms: number): string {
  const [unit, length] = UNITS.find(([, length]) => ms >= 2 * length) ?? UNITS.at(-1)!;
  return `${formatNumber(ms / length, 1)} ${unit}`;
}
