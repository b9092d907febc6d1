import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { describe, expect, it, vi } from "vitest";
import { documentOf as claimDocument } from "@/cli/studies/judge";
import { locatedDocument } from "@/cli/studies/locate";
import { conclusionsIn } from "@/cli/studies/study-file";
import { answerFor, drillsDone } from "@/core/answer/study";
import { locatedStudy } from "@/core/answer/located-study";
import { isAlike } from "@/core/drills/shape";
import { setUpKey } from "@/core/chain/set-up";
import { stagesOf } from "@/core/chain/stages";
import type { Rig } from "@/core/chain/rig";
import { StudyFile, studyOf, type StudyFileInput } from "@/core/exchange/study-file";
import { placesOf, type Located } from "@/core/locate/locate";
import { evidenceOn } from "@/core/locate/findings/for-and-against";
import { placeName } from "@/core/locate/findings/sentences";
import { cardOf } from "@/core/report/card";
import { matterOf } from "@/core/report/matter";
import { inStudy } from "@/core/report/seen-with";
import { USUAL_CHOICE } from "@/core/study/report-choice";
import { formatPercent, IN_MB, ratesIn } from "@/core/units/number";
import { Direction } from "@/core/units/rate";
import { drawn, holdsIn } from "@/core/testing/drawn";
import { openStore } from "@/store/database";
import { takeInStudy } from "../studies/study-file";
import { madeStudy } from "../testing/made-study";
import { openCompared } from "./comparison";
import { conclusionsOf } from "./conclusions";

// Dozens of studies are kept, located and judged; a busy machine takes its time.
vi.setConfig({ testTimeout: 240_000 });

/** What is said of one rig in one drill and direction, by whichever face: names, not identifiers. */
interface Said {
  cause: string;
  /** Percent. */
  certainty: number;
  mbps: number;
}

const percent = (chance: number) => Math.round(1000 * chance) / 10;
const rounded = (mbps: number) => Math.round(mbps * 1000) / 1000;
const keyOf = (rig: string, drill: string, direction: string) => `${rig} ${drill} ${direction}`;

const saidOf = (located: Located): Said => {
  const [top] = placesOf(located.explanations);
  return {
    cause: top ? placeName(top.explanations[0]!, located) : "nothing",
    certainty: percent(top?.probability ?? 0),
    mbps: rounded(located.observedMBps),
  };
};

/** The study in a data folder of its own, as the pages have it. */
function onPages(file: StudyFileInput) {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-faces-"));
  const store = openStore(folder);
  try {
    const { id } = takeInStudy(store, Buffer.from(JSON.stringify(file)));
    const kept = openCompared(store, id);
    const conclusions = conclusionsOf(store, kept);
    const said = new Map<string, { answer: Said; locate: Said }>();
    for (const direction of Direction.options) {
      for (const { name } of drillsDone(kept.measurements, direction)) {
        const { rigs } = answerFor(conclusions, direction, { drill: name });
        const located = locatedStudy(conclusions, { drill: name, direction, rigId: null }, IN_MB);
        for (const { rig, standing, observation } of rigs) {
          if (!standing) continue;
          const { likeliest } = standing;
          const answer = {
            cause: likeliest?.name ?? "nothing",
            certainty: percent(likeliest?.probability ?? 0),
            mbps: rounded(observation!.repeats.median),
          };
          const own = conclusions.locatedIn(name, direction).find((one) => one.rig.id === rig.id);
          const listed = located.rigs.find(({ rigId }) => rigId === rig.id);
          said.set(keyOf(rig.name, name, direction), {
            answer,
            locate: { ...saidOf(own!), mbps: rounded(listed!.observedMBps) },
          });
        }
      }
    }
    const verdicts = conclusions.judged().map(({ part, claim, kind, shortBy, observed }) => ({
      key: `${part.name} ${JSON.stringify(claim)}`,
      kind,
      shortBy: shortBy && formatPercent(shortBy),
      median: observed && rounded(observed.median),
    }));
    const told = Direction.options.flatMap((direction) =>
      answerFor(conclusions, direction).verdicts.map(
        ({ part, claim, kind }) => `${part.name} ${claim.kind} ${claim.direction}: ${kind}`,
      ),
    );
    return { said, verdicts, told };
  } finally {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  }
}

/** The same by the commands, and by the report and the cards. */
function onPaper(file: StudyFileInput) {
  const filed = studyOf(StudyFile.parse(file));
  const conclusions = conclusionsIn(filed);
  const matter = matterOf({ filed, at: "2026-01-02T00:00:00.000Z" }, USUAL_CHOICE);
  const verdictsOf = (judged: ReturnType<typeof conclusions.judged>) =>
    judged.map(({ part, claim, kind, shortBy, observed }) => ({
      key: `${part.name} ${JSON.stringify(claim)}`,
      kind,
      shortBy: shortBy && formatPercent(shortBy),
      median: observed && rounded(observed.median),
    }));
  const cards = filed.parts
    .filter(({ claims }) => claims.length > 0)
    .flatMap((part) => {
      const card = cardOf(
        part,
        [inStudy(filed)],
        { unit: "MB/s", numbers: USUAL_CHOICE.numbers, dates: USUAL_CHOICE.dates },
        "2026-01-02T00:00:00.000Z",
      );
      const tables = card.sections
        .flatMap(({ blocks }) => blocks)
        .flatMap((block) => (block.kind === "table" ? [block.table] : []));
      const rows = tables.find(({ key }) => key === "verdicts")?.rows ?? [];
      return rows.map((row) => `${part.name}: ${row[1]!.text}`);
    });
  return { conclusions, matter, cards, verdictsOf };
}

const byKey = <T extends { key: string }>(all: readonly T[]) =>
  all.toSorted((a, b) => (a.key < b.key ? -1 : 1));

const ceilingOf = (rig: Rig, direction: Direction) =>
  Math.min(...stagesOf(rig, direction).map(({ ceiling }) => ceiling));

/** A made study as each face has it, worked out once for all that is asked of it. */
class Faced {
  private readonly file: StudyFileInput;
  constructor(file: StudyFileInput) {
    this.file = file;
  }
  private pages?: ReturnType<typeof onPages>;
  private paper?: ReturnType<typeof onPaper>;
  get onPages() {
    return (this.pages ??= onPages(this.file));
  }
  get onPaper() {
    return (this.paper ??= onPaper(this.file));
  }
}

const SEED = Number(process.env.NERRIT_SEED ?? 11);
const QUICK = process.env.NERRIT_QUICK === "1" ? 15 : 40;
const STUDIES = process.env.NERRIT_SEED === undefined ? QUICK : 200;
const studies = drawn(madeStudy, SEED, STUDIES).map((file) => new Faced(file));
const holds = (check: (study: Faced) => void) => holdsIn(studies, SEED, check);

describe("whatever two faces say of one thing is one and the same", () => {
  it("gives one cause, certainty and figure for a rig on answer, Locate, command and report", () => {
    let compared = 0;
    holds((study) => {
      const { said } = study.onPages;
      const { conclusions, matter } = study.onPaper;
      for (const [key, { answer, locate }] of said) {
        expect({ key, ...locate }).toEqual({ key, ...answer });
        const [name, drill, direction] = [key.slice(0, 5), ...key.slice(6).split(" ")];
        const rig = conclusions.rigs.find((one) => one.name === name)!;
        const seen = conclusions.knownIn(drill!, direction as Direction).get(rig.id)!;
        const own = conclusions.locatedOf(seen)!;
        expect({ key, ...saidOf(own) }).toEqual({ key, ...answer });
        const document = conclusions
          .located()
          .filter((one) => one.rig === seen.rig && one.drill === seen.drill)
          .map(locatedDocument);
        expect(document.map(({ observedMBps }) => rounded(observedMBps))).toEqual([answer.mbps]);
        const [first] = document[0]!.explanations;
        expect(percent(first?.probability ?? 0)).toBeLessThanOrEqual(answer.certainty + 0.1);
        const reported = matter.located.find(
          (one) => one.rig === seen.rig && one.drill === seen.drill,
        );
        if (reported) expect({ key, ...saidOf(reported) }).toEqual({ key, ...answer });
        compared += 1;
      }
    });
    expect(compared).toBeGreaterThan(STUDIES);
  });

  it("gives one verdict on a claim on answer, Judge, command, report and card", () => {
    let judged = 0;
    holds((study) => {
      const { verdicts, told } = study.onPages;
      const { conclusions, matter, cards, verdictsOf } = study.onPaper;
      const inCommand = conclusions.judged();
      const stands = (list: typeof inCommand) =>
        list.filter(({ part }) => conclusions.rigs.some((rig) => rig.parts.includes(part)));
      expect(byKey(verdictsOf(stands(inCommand)))).toEqual(byKey(verdicts));
      expect(byKey(verdictsOf(stands(matter.judged)))).toEqual(byKey(verdicts));
      expect(inCommand.map(claimDocument).map(({ partId }) => partId)).toHaveLength(
        inCommand.length,
      );
      const judgedRates = stands(inCommand).flatMap(({ part, claim, kind }) =>
        claim.kind === "link" ? [] : [`${part.name} ${claim.kind} ${claim.direction}: ${kind}`],
      );
      expect(told.toSorted()).toEqual(judgedRates.toSorted());
      const onCards = stands(inCommand).map(
        ({ part, kind, shortBy }) =>
          `${part.name}: ${kind}${shortBy === null ? "" : ` by ${formatPercent(shortBy)}`}`,
      );
      expect(cards.toSorted()).toEqual(onCards.toSorted());
      judged += verdicts.filter(({ kind }) => kind !== "Can't tell yet").length;
    });
    expect(judged).toBeGreaterThan(STUDIES / 10);
  });

  it("lists as evidence for a cause no run of a rig that it does not stand in", () => {
    let listed = 0;
    holds(({ onPaper: { conclusions } }) => {
      const rigOf = new Map(conclusions.measurements.map(({ id, rig }) => [id, rig]));
      for (const located of conclusions.located()) {
        for (const explanation of located.explanations) {
          const own = explanation.site?.parts.map(({ id }) => id) ?? [];
          for (const { measurementIds } of evidenceOn(explanation, located).for) {
            const stands = rigOf.get(measurementIds[0]!)!.parts.map(({ id }) => id);
            for (const id of own) expect(stands).toContain(id);
            listed += own.length;
          }
        }
      }
    });
    expect(listed).toBeGreaterThan(STUDIES);
  });

  it("proposes on Judge and on Locate no step that was done", () => {
    let proposed = 0;
    holds(({ onPaper: { conclusions } }) => {
      const done = new Set(
        conclusions.counting
          .filter(({ doubtful }) => !doubtful)
          .map(({ rig, drill }) => keyOf(rig.id, drill.name, drill.direction)),
      );
      for (const { settle } of conclusions.judged(ratesIn("MB/s"))) {
        for (const { ask } of settle) {
          if (!ask || !ask.rig.parts) continue;
          proposed += 1;
          const made = conclusions.rigs.find(
            ({ parts: all, fileSystem }) =>
              all.map(({ id }) => id).join() === ask.rig.parts!.join() &&
              fileSystem === conclusions.rigs.find(({ id }) => id === ask.rig.like)!.fileSystem,
          );
          if (made) expect(done).not.toContain(keyOf(made.id, ask.drill, ask.direction));
        }
      }
      for (const { nextSwaps, drill, direction } of conclusions.located()) {
        for (const swap of nextSwaps.filter((one) => one.kind === "exchange")) {
          const again = conclusions.counting.filter(
            (one) =>
              !one.doubtful &&
              isAlike(one.drill, drill) &&
              setUpKey(one.rig) === setUpKey(swap.rig),
          );
          proposed += 1;
          // What was answered by memory may be done again.
          const honest = again.filter(
            ({ repeats, rig }) => repeats.median <= ceilingOf(rig, direction),
          );
          expect(honest).toEqual([]);
        }
      }
    });
    expect(proposed).toBeGreaterThan(STUDIES / 10);
  });
});
