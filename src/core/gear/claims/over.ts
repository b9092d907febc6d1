import { FAMILY_NAMES } from "../../ledger/families";
import { findMode } from "../../ledger/catalogue";
import { LINE_CODES } from "../../ledger/line-code";
import { FamilyId, type LinkMode } from "../../ledger/mode";
import { wordsOf } from "../gear-words";

/** The rate that a link is called by, as a word: "40g". Of those that are called by a number it is that number. */
function calledBy(mode: LinkMode): string[] {
  const gbps = mode.gigatransfers * mode.lanes;
  const share = LINE_CODES[mode.lineCode].share;
  // USB4 and Thunderbolt are called by what their lanes carry; others by what they signal.
  return [gbps, gbps * share].map((rate) => `${Number(rate.toPrecision(2))}g`);
}

/** A link by its id, which the part itself may not run: how one is written that has no other name here. */
const EXACTLY = /^exactly (\S+)$/;

/**
 * The links that a claim means by what is printed behind "over": families and modes by their ids, of those
 * that the part can run; none where nothing of them answers.
 *
 * @param text "USB", "40 Gb/s", "Thunderbolt 3" @param modes ids of what the part's own link runs
 */
export function linksMeant(text: string, modes: readonly string[]): string[] {
  const [, exact] = EXACTLY.exec(text.trim()) ?? [];
  if (exact && (FamilyId.safeParse(exact).success || findMode(exact))) return [exact];
  const asked = wordsOf(text);
  const families = FamilyId.options.filter(
    (id) => FAMILY_NAMES[id].toLowerCase() === text.trim().toLowerCase(),
  );
  const known = modes.flatMap((id) => findMode(id) ?? []);
  const named = known.find(({ id, short }) => id === text.trim() || short === text.trim());
  const alike = known.filter(({ short }) => short === named?.short);
  if (named && (named.id === text.trim() || alike.length === 1)) return [named.id];
  if (families.length > 0) return families.filter((id) => known.some((one) => one.family === id));
  const answers = known.filter((mode) => {
    const words = new Set([...wordsOf(`${mode.name} ${mode.short}`), ...calledBy(mode)]);
    return asked.every((word) => words.has(word));
  });
  return answers.map(({ id }) => id);
}
