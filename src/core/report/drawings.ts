import type { LetteredRig } from "../answer/lettered-rig";
import type { StudyAnswer } from "../answer/study";
import { drillNamed } from "../drills/catalogue";
import { stagesOf } from "../chain/stages";
import { marksOf } from "../locate/findings/finding";
import { DOING } from "../units/rate";
import { originWords } from "./origins";
import { anchorOf, type Block, type Picture } from "./document";
import type { Matter } from "./matter";

/** Channels of one picture: as many as stand on a page. */
const ON_A_PAGE = 5;
/** Rigs that are drawn of one drill; figures are given of all. */
const MOST_DRAWN = 20;

/**
 * The Narrows drawings of one drill in one direction, a few rigs each.
 *
 * @param of what they illustrate
 */
export function drawingsOf(
  matter: Matter,
  answer: StudyAnswer,
  of: "answer" | "narrows" = "narrows",
): Block[] {
  const drawn = answer.rigs
    .filter(({ rig }) => stagesOf(rig, answer.direction).length > 0)
    .slice(0, MOST_DRAWN);
  const pages = Math.ceil(drawn.length / ON_A_PAGE);
  return Array.from({ length: pages }, (_, page): Block => {
    const some = drawn.slice(page * ON_A_PAGE, (page + 1) * ON_A_PAGE);
    return {
      kind: "picture",
      picture: pictureOf(
        matter,
        answer,
        some,
        `${of}-${answer.drill}-${answer.direction}-${page + 1}`,
      ),
    };
  });
}

function pictureOf(
  { rates }: Matter,
  { direction, drill }: StudyAnswer,
  rigs: LetteredRig[],
  key: string,
): Picture {
  const { title } = drillNamed(drill);
  const origins = originWords(rigs.flatMap(({ observation }) => observation?.origin ?? []));
  const letters = rigs.map(({ letter }) => letter).join(", ");
  return {
    key,
    title: `What each stage can carry and what flowed: ${title}, ${DOING[direction]}`,
    note: `${rigs.length === 1 ? "Rig" : "Rigs"} ${letters}. Width of the channel: what the stage can carry; fill: median of the repeats, ${rates.unit}.${origins ? ` ${origins}` : ""}`,
    alt: rigs
      .map((one) => {
        const { letter, rig, observation } = one;
        const marks = marksOf(one, direction).stageKeys;
        const narrow = stagesOf(rig, direction)
          .filter(({ key }) => marks.includes(key))
          .map(({ label }) => label);
        const flow = observation ? rates.said(observation.repeats.median) : "not measured";
        return `Rig ${letter}, ${rig.name}: ${flow}${narrow.length > 0 ? `, marked: ${narrow.join(", ")}` : ""}.`;
      })
      .join(" "),
    runs: rigs.flatMap(({ letter, observation }) =>
      observation ? [{ text: letter, run: anchorOf(observation.measurementIds[0]!) }] : [],
    ),
    drawn: { kind: "rigs", rigs, direction, unit: rates.unit },
  };
}
