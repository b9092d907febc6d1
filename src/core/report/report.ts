import { writtenAs } from "../units/writing";
import { SECTIONS, type ReportChoice, type SectionKey } from "../study/report-choice";
import type { Block, ReportDocument } from "./document";
import { matterOf, type Matter, type ReportInput } from "./matter";
import { originWords } from "./origins";
import { standOf } from "./stand";
import { answerSection } from "./sections/answer";
import { argumentSection } from "./sections/argument";
import { changesSection } from "./sections/changes";
import { demandsSection } from "./sections/demands";
import { figuresSection } from "./sections/figures";
import { gearSection } from "./sections/gear";
import { limitsSection } from "./sections/limits";
import { methodSection } from "./sections/method";
import { runsSection } from "./sections/runs";
import { tracesSection } from "./sections/traces";
import { verdictsSection } from "./sections/verdicts";

const WRITTEN: Record<SectionKey, (matter: Matter) => Block[]> = {
  answer: answerSection,
  verdicts: verdictsSection,
  argument: argumentSection,
  figures: figuresSection,
  traces: tracesSection,
  demands: demandsSection,
  gear: gearSection,
  method: methodSection,
  limits: limitsSection,
  changes: changesSection,
  runs: runsSection,
};

/** The pictures of the bench that stand in a section; those that are gone are left out. */
const photosIn = (key: SectionKey, { choice, photos }: Matter): Block[] =>
  choice.photos.flatMap(({ id, section, caption }, i): Block[] => {
    const photo = photos[id];
    return section === key && photo
      ? [{ kind: "photo", photo: { ...photo, caption, key: `photo-${i + 1}` } }]
      : [];
  });

/** A report, and how the study stood: what the next issue is held against. */
export interface Report {
  document: ReportDocument;
  stand: ReturnType<typeof standOf>;
}

/**
 * Writes the report of a study: the same input and choice give the same report. A section with nothing
 * to say is left out, unless the tester has written something for it.
 */
export function reportOf(input: ReportInput, choice: ReportChoice): Report {
  return writtenAs(choice, () => {
    const matter = matterOf(input, choice);
    const { filed, day, at } = matter;
    const sections = choice.sections
      .filter(({ shown }) => shown)
      .map(({ key, text }) => ({
        key,
        title: SECTIONS[key],
        own: text,
        blocks: [...photosIn(key, matter), ...WRITTEN[key](matter)],
      }))
      .filter(({ own, blocks }) => own !== "" || blocks.length > 0);
    return {
      document: {
        form: "report",
        title: choice.title || filed.study.title,
        author: choice.author,
        made: day(at),
        origins: originWords(matter.seen.map(({ origin }) => origin)),
        sections,
      },
      stand: standOf(matter),
    };
  });
}
