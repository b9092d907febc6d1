import { capital, list } from "../chain/wording";
import { Origin } from "../study/measurement";

const SAID: Record<Exclude<Origin, "measured">, string> = {
  watched: "watched while other programs worked",
  imported: "taken from logs of other programs",
  typed: "written down by hand",
  simulated: "made up by the simulated bench",
};

/**
 * What of some runs was not measured by the program's own engine, as a sentence.
 *
 * @returns null where all was measured
 */
export function originWords(origins: readonly Origin[]): string | null {
  const found = Origin.options.filter((one) => one !== "measured" && origins.includes(one));
  if (found.length === 0) return null;
  const what = list(found.map((one) => SAID[one as keyof typeof SAID]));
  const all = origins.every((one) => one !== "measured");
  return capital(`${all ? "these runs were" : "some of these runs were"} ${what}, not measured.`);
}
