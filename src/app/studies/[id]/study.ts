import { notFound } from "next/navigation";
import { services } from "@/services/services";
import { isProblem } from "@/services/problem";
import { conclusionsOf } from "@/services/conclusions/conclusions";
import { remembered } from "@/services/conclusions/remembered";
import { issuesOf } from "@/services/reports/make-report";
import { openCompared, type Compared } from "@/services/conclusions/comparison";
import { isMeasured, letteredRigs, type LetteredRig } from "@/core/answer/lettered-rig";
import { answerFor, type StudyAnswer } from "@/core/answer/study";
import { worksDone } from "@/core/compare/works";
import type { ShownComparison } from "@/core/compare/shown";
import { isFinding, isOpen, type CauseGroup } from "@/core/answer/cause-group";
import type { Conclusions } from "@/core/conclude/conclusions";
import { knownIn } from "@/core/conclude/counting";
import type { Judged } from "@/core/judge/judged";
import { isHostSpoiled, Origin } from "@/core/study/measurement";
import { OUTCOME } from "@/core/drills/kinds/outcome";
import { drillNamed, findDrill } from "@/core/drills/catalogue";
import { counted } from "@/core/units/counted";
import { ratesIn } from "@/core/units/number";
import { Direction, RateUnit } from "@/core/units/rate";
import { unitOfReader } from "../../unit";
import type { CourseStage } from "@/ui/frame/course";

export type Query = Promise<Record<string, string | string[] | undefined>>;

/** A study that is kept as long as nothing is written, or the page that says that there is none. */
export function openKept(id: string): Compared {
  try {
    return openCompared(services().store, id);
  } catch (error) {
    if (isProblem(error) && error.status === 404) notFound();
    throw error;
  }
}

/** What the address asks for; what makes no sense there is as if left out. */
export interface Asked {
  direction: Direction;
  unit: RateUnit;
  /** The drill, by name; null: the first that was done. */
  drill: string | null;
  /** Runs of this origin alone; null: of every one. */
  origin: Origin | null;
  /** Whether channels are drawn, however many rigs there are. */
  all: boolean;
  /** How the rigs of an answer stand. */
  order: Order;
}

/** Below the causes that explain them, the fastest first, or as the study has them. */
export type Order = "cause" | "rate" | "letter";

export async function asked(query: Query): Promise<Asked> {
  const { direction, unit, drill, origin, rigs, order } = await query;
  return {
    direction: Direction.catch("read").parse(direction),
    unit: RateUnit.safeParse(unit).data ?? (await unitOfReader()),
    drill: typeof drill === "string" && findDrill(drill) ? drill : null,
    origin: Origin.safeParse(origin).data ?? null,
    all: rigs === "all",
    order: order === "rate" || order === "letter" ? order : "cause",
  };
}

/** What there is to compare, in a count. */
const comparable = (rates: number, works: number): string =>
  rates > 0
    ? counted(rates, "rate")
    : works > 0
      ? counted(works, "recorded work")
      : "nothing to compare";

/** The stages of a study and how each stands. */
export function courseOf(
  {
    study,
    rigs,
    measurements,
    evidence,
  }: Pick<Compared, "study" | "rigs" | "measurements" | "evidence">,
  answers: readonly StudyAnswer[],
  judged: readonly Pick<Judged, "kind">[],
): CourseStage[] {
  const base = `/studies/${study.id}`;
  const parts = new Set(rigs.flatMap((rig) => rig.parts.map(({ id }) => id))).size;
  const runs = measurements
    .filter(({ drill }) => drill.name !== OUTCOME.name)
    .flatMap((m) => m.runs);
  const done = runs.filter(({ status }) => status === "done").length;
  const broken = runs.filter(({ status }) => status !== "done" && status !== "running").length;
  const doubtful = [...evidence.of.values()]
    .flat()
    .filter((seen) => seen.doubtful || isHostSpoiled(seen))
    .reduce((sum, { results }) => sum + results.length, 0);
  const found = answers.flatMap((answer) => answer.rigs.filter(isMeasured));
  const { open, located, next } = locatedIn(answers);
  const issued = issuesOf(services().store, study.id).length;
  const told = judged.filter(({ kind }) => kind !== "Can't tell yet").length;
  return [
    {
      name: "Rigs",
      href: `${base}/rigs`,
      state:
        rigs.length === 0
          ? "none yet"
          : `${counted(rigs.length, "rig")}, ${counted(parts, "part")}`,
      done: rigs.length > 1,
    },
    {
      name: "Measure",
      href: `${base}/measure`,
      state:
        runs.length === 0
          ? "nothing yet"
          : [
              counted(done, "run"),
              `${doubtful === 0 ? "none" : doubtful} doubtful`,
              ...(broken > 0 ? [`${broken} cut short`] : []),
            ].join(", "),
      done: done > 0,
    },
    {
      name: "Compare",
      href: `${base}/compare`,
      state: comparable(found.length, worksDone(measurements).size),
      done: found.length > 1,
    },
    {
      name: "Locate",
      href: `${base}/locate`,
      state:
        found.length === 0
          ? "nothing to locate"
          : open > 0
            ? `${open} open${next ? `, next: ${uncapital(next)}` : ""}`
            : located === 0
              ? "all as designed"
              : `${counted(located, "cause")} shown`,
      done: found.length > 1 && open === 0,
    },
    {
      name: "Judge",
      href: `${base}/judge`,
      state:
        judged.length === 0
          ? "no claims"
          : told === 0
            ? `${counted(judged.length, "claim")}, all open`
            : `${told} of ${judged.length} judged`,
      done: judged.length > 0 && told === judged.length,
    },
    {
      name: "Report",
      href: `${base}/report`,
      state: issued === 0 ? "not issued" : counted(issued, "issue"),
      done: issued > 0,
    },
  ];
}

/** How many findings are open and how many are shown, of both directions, and what to do next. */
function locatedIn(answers: readonly StudyAnswer[]) {
  const groups = answers.flatMap((answer) => answer.groups);
  const findings = groups.filter((group) => group.kind === "impossible" || isFinding(group));
  const causesOf = (some: readonly CauseGroup[]) => new Set(some.map(({ cause }) => cause)).size;
  // Of rigs that were not looked at one by one each may have a cause of its own.
  const unweighed = groups.filter(({ kind }) => kind === "unweighed");
  const open =
    causesOf(findings.filter((group) => isOpen(group) && group.kind !== "unweighed")) +
    unweighed.reduce((sum, { rigs }) => sum + rigs.length, 0);
  const [next] = answers.flatMap(({ next: step }) => (step?.go.kind === "swap" ? step.text : []));
  return { open, located: causesOf(findings.filter((group) => !isOpen(group))), next };
}

const uncapital = (text: string) => text.charAt(0).toLowerCase() + text.slice(1);

/** The stages as far as they are known before anything is answered; the rest comes later. */
export const courseAtFirst = (kept: Compared): CourseStage[] =>
  courseOf(kept, [], []).map((stage) =>
    ["Compare", "Locate", "Judge"].includes(stage.name) ? { ...stage, state: "" } : stage,
  );

/**
 * The answers in both directions of a study that is kept, worked out once.
 *
 * @param drill that is answered for; null: the first that was done
 * @param origin runs of this origin alone; null: of every one
 * @param steps whether what to do next is worked out too
 */
export function keptAnswers(
  kept: Compared,
  { drill, unit, origin }: Pick<Asked, "drill" | "unit" | "origin"> = USUALLY_ASKED,
  steps = true,
): StudyAnswer[] {
  const key = JSON.stringify(["answers", drill, unit, origin, steps]);
  return remembered(kept, key, () => {
    const conclusions = keptConclusions(kept, origin);
    const rates = ratesIn(unit);
    return Direction.options.map((direction) =>
      answerFor(conclusions, direction, { drill, rates, steps }),
    );
  });
}

const USUALLY_ASKED = { drill: null, unit: "MB/s", origin: null } as const;

/** What follows from a study that is kept. @param origin of runs of this origin alone; null of every one */
export const keptConclusions = (kept: Compared, origin: Origin | null = null): Conclusions =>
  conclusionsOf(services().store, kept, origin ? { origin } : {});

/** Every claim of a study that is kept, judged once. */
export const keptJudged = (kept: Compared): readonly Judged[] => keptConclusions(kept).judged();

/** More channels than these are not told apart at a glance. */
const MOST_DRAWN = 14;

/** The rigs of an answer as the Narrows drawing takes them, of its first drill. */
export function drawnOf(
  { evidence: { rigs, of } }: Pick<Compared, "evidence">,
  { columns: [first], rows }: ShownComparison,
): LetteredRig[] {
  if (!first) return [];
  const seen = [...of.values()].flat();
  const known = (drill: string, direction: Direction) => knownIn(seen, drill, direction);
  const basis = { checks: services().checks.latest() };
  const drill = drillNamed(first.drill);
  const all = letteredRigs({ rigs, knownIn: known, basis }, drill, first.direction);
  return rows
    .slice(0, MOST_DRAWN)
    .flatMap(({ rigId }) => all.find(({ rig }) => rig.id === rigId) ?? []);
}
