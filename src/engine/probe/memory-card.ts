import { sdMode } from "@/core/system/modes";
import type { SeenLink, SeenNode } from "@/core/system/system-report";
import { blankNode } from "@/core/system/blank-node";
import type { SystemTree } from "./tree";

/** A host controller for memory cards: ".../mmc_host/mmc0". */
export const CARD_HOST = /\/mmc_host\/mmc\d+$/;

/** A memory card as the MMC layer describes it (drivers/mmc/core/sd.c, mmc.c). @param at its directory */
export async function readCard(tree: SystemTree, at: string): Promise<SeenNode> {
  const attribute = (file: string) => tree.read(`${at}/${file}`);
  const type = await attribute("type");
  const name = await attribute("name");
  return {
    ...blankNode("memory-card", [type, name].filter(Boolean).join(" ") || "memory card", at),
    model: name,
    serial: await attribute("serial"),
    link: await busOf(tree, at),
    facts: [
      ...(await tree.fact("type of card", `${at}/type`)),
      ...(await tree.fact("name of card", `${at}/name`)),
      ...(await tree.fact("maker’s number", `${at}/manfid`)),
      ...(await tree.fact("made", `${at}/date`)),
      ...(await tree.fact("serial number", `${at}/serial`)),
    ],
  };
}

/**
 * How fast a card's bus runs. Only the kernel's debug files say it (drivers/mmc/core/debugfs.c: ios),
 * which are there for root, and where they are mounted at all.
 */
async function busOf(tree: SystemTree, at: string): Promise<SeenLink | null> {
  const host = /\/(mmc\d+)\/[^/]+$/.exec(at)?.[1];
  const from = `/sys/kernel/debug/${host}/ios`;
  const text = await tree.read(from);
  const timing = text && /^timing spec:\s*\d+ \((.+)\)$/m.exec(text)?.[1];
  const width = text && /^bus width:\s*\d+ \((\d+) bits?\)$/m.exec(text)?.[1];
  if (!timing) {
    const why =
      text === null
        ? "only the kernel’s debug files say it, and they cannot be read"
        : "the system does not say";
    tree.miss("speed of the card’s bus", from, why);
    return null;
  }
  const now = width ? `${timing}, ${width} bits` : timing;
  return { mode: sdMode(timing), now, mostMode: null, most: null, from: [from] };
}
