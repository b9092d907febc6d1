import { notFound } from "next/navigation";
import { bench } from "@/bench/bench";
import { isProblem } from "@/bench/problem";
import { measurementsOf, openStudy, type OpenStudy } from "@/bench/studies";
import { openCompared, type Compared } from "@/bench/comparison";
import { answerFor, type LetteredRig, type StudyAnswer } from "@/core/answer/study";
import type { ShownComparison } from "@/core/compare/shown";
import { findingOf } from "@/core/locate/finding";
import { observe, Origin, type Measurement } from "@/core/study/measurement";
import { drillNamed, findDrill } from "@/core/drills/catalogue";
import { counted } from "@/core/units/counted";
import { IN_MB } from "@/core/units/number";
import { Direction, RateUnit } from "@/core/units/rate";
import { unitOfReader } from "../../unit";
import type { CourseStage } from "@/ui/frame/course";

export type Query = Promise<Record<string, string | string[] | undefined>>;

/** A study as its pages need it, or the page that says that there is none. */
export function loadStudy(id: string): OpenStudy & { measurements: Measurement[] } {
  const { store } = bench();
  try {
    return { ...openStudy(store, id), measurements: measurementsOf(store, id) };
  } catch (error) {
    if (isProblem(error) && error.status === 404) notFound();
    throw error;
  }
}

/** A study that is kept as long as nothing is written, or the page that says that there is none. */
export function openKept(id: string): Compared {
  try {
    return openCompared(bench().store, id);
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
}

export async function asked(query: Query): Promise<Asked> {
  const { direction, unit, drill, origin } = await query;
  return {
    direction: Direction.catch("read").parse(direction),
    unit: RateUnit.safeParse(unit).data ?? (await unitOfReader()),
    drill: typeof drill === "string" && findDrill(drill) ? drill : null,
    origin: Origin.safeParse(origin).data ?? null,
  };
}

/** The stages of a study and how each stands. */
export function courseOf(
  { study, rigs, measurements }: ReturnType<typeof loadStudy>,
  answers: readonly StudyAnswer[],
): CourseStage[] {
  const base = `/studies/${study.id}`;
  const parts = new Set(rigs.flatMap((rig) => rig.parts.map(({ id }) => id))).size;
  const runs = measurements.flatMap((m) => m.runs);
  const done = runs.filter(({ status }) => status === "done").length;
  const broken = runs.filter(({ status }) => status !== "done" && status !== "running").length;
  const found = answers.flatMap(({ answer }) => Object.values(answer.findings).filter(Boolean));
  const below = found.filter((finding) => finding?.kind === "below").length;
  const verdicts = answers.flatMap((answer) => answer.verdicts);
  const settled = verdicts.filter(({ kind }) => kind !== "Can't tell yet").length;
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
          : `${counted(done, "run")}${broken > 0 ? `, ${broken} cut short` : ""}`,
      done: done > 0,
    },
    {
      name: "Compare",
      href: `${base}/compare`,
      state:
        found.length === 0
          ? "nothing to compare"
          : `${counted(found.length, "rate")} against ${found.length === 1 ? "its ceiling" : "ceilings"}`,
      done: found.length > 1,
    },
    {
      name: "Locate",
      href: `${base}/locate`,
      state:
        found.length === 0
          ? "nothing to locate"
          : below === 0
            ? "no rate below its ledger"
            : `${counted(below, "rate")} below ${below === 1 ? "its ledger" : "their ledgers"}`,
      done: found.length > 1 && below === 0,
    },
    {
      name: "Judge",
      href: `${base}#judge`,
      state:
        verdicts.length === 0
          ? "no claims"
          : `${counted(settled, "verdict")}, ${verdicts.length - settled} open`,
      done: verdicts.length > 0 && settled === verdicts.length,
    },
  ];
}

/** The stages as far as they are known before anything is answered; the rest comes later. */
export const courseAtFirst = (kept: Compared): CourseStage[] =>
  courseOf(kept, []).map((stage) =>
    ["Compare", "Locate", "Judge"].includes(stage.name) ? { ...stage, state: "" } : stage,
  );

/** The answers in both directions. */
export const bothAnswers = (
  { study, rigs, measurements }: ReturnType<typeof loadStudy>,
  drill: string | null = null,
  rates = IN_MB,
) =>
  Direction.options.map((direction) =>
    answerFor(study, rigs, measurements, direction, drill, rates),
  );

const answered = new WeakMap<object, StudyAnswer[]>();

/** The answers in both directions of a study that is kept, worked out once. */
export function keptAnswers(kept: ReturnType<typeof loadStudy>): StudyAnswer[] {
  let answers = answered.get(kept);
  if (!answers) answered.set(kept, (answers = bothAnswers(kept)));
  return answers;
}

/** More channels than these are not told apart at a glance. */
const MOST_DRAWN = 14;

/** The rigs of an answer as the Narrows drawing takes them, of its first drill. */
export function drawnOf(
  { evidence }: Pick<Compared, "evidence">,
  { columns, rows }: ShownComparison,
): LetteredRig[] {
  const [first] = columns;
  if (!first) return [];
  const { direction, drill } = first;
  const small = drillNamed(drill).shows.includes("iops");
  return rows.slice(0, MOST_DRAWN).flatMap(({ rigId, letter }) => {
    const rig = evidence.rigs.find(({ id }) => id === rigId)!;
    const seen = (evidence.of.get(rigId) ?? []).filter((one) => one.drill.name === drill);
    const observation = observe(seen, rig, direction);
    const finding = observation && findingOf(rig, direction, observation.repeats, undefined, small);
    return [{ letter, rig, observation, finding }];
  });
}
