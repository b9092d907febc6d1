import path from "node:path";
import * as z from "zod";
import { MOST_LISTED, type Looked } from "@/core/watch/tally";
import { SystemTree } from "@/engine/probe/tree";
import { Refusal } from "@/engine/refusal";
import { findSource, type Source } from "@/engine/watch/source";
import { checked, Problem } from "../problem";
import { systemRoot } from "../plugged/system-root";

/** So many are watched closely at once; of more each look would cost what it is to show. */
const CLOSELY = 8;

const WatchQuery = z
  .object({
    names: z
      .array(z.string().min(1).max(200))
      .min(1, "name a drive or an interface")
      .max(MOST_LISTED, `at most ${MOST_LISTED} at once`),
    /** The kernel's counters are kept no finer than ten times a second. */
    everyMs: z.coerce
      .number()
      .int()
      .min(100, "at most ten times a second")
      .max(10_000)
      .default(200),
  })
  .refine(({ names, everyMs }) => names.length <= CLOSELY || everyMs >= 1000, {
    path: ["names"],
    message: "at most eight at once, or once a second",
  });

/** The kernel's tree, read without waking a disk. */
export const quietTree = () => new SystemTree(path.resolve(systemRoot()), { quiet: true });

/** Network interfaces that can be watched. */
export const interfaces = (): Promise<string[]> => quietTree().list("/sys/class/net");

/**
 * Finds what is to be watched.
 *
 * @throws Problem naming the first that the system counts nothing for
 */
export async function findSources(
  query: URLSearchParams,
): Promise<{ sources: Source[]; everyMs: number }> {
  const { names, everyMs } = checked(WatchQuery, {
    names: query.getAll("name"),
    everyMs: query.get("every") ?? undefined,
  });
  const tree = quietTree();
  try {
    return { sources: await Promise.all(names.map((name) => findSource(tree, name))), everyMs };
  } catch (error) {
    if (error instanceof Refusal) throw new Problem(422, error.message);
    throw error;
  }
}

/** Looks at sources again and again. @returns ends the watching */
export function watchSources(
  sources: readonly Source[],
  everyMs: number,
  tell: (looked: Looked) => void,
): () => void {
  const begun = performance.now();
  let over = false;
  let timer: NodeJS.Timeout;
  const look = async () => {
    const counts = await Promise.all(sources.map((source) => source.count()));
    if (over) return;
    tell({ ms: performance.now() - begun, counts });
    timer = setTimeout(() => void look(), everyMs);
  };
  void look();
  return () => {
    over = true;
    clearTimeout(timer);
  };
}
