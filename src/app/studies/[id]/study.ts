import { notFound } from "next/navigation";
import { services } from "@/services/services";
import { isProblem } from "@/services/problem";
import { conclusionsOf } from "@/services/conclusions/conclusions";
import { remembered } from "@/services/conclusions/remembered";
import { issuesOf } from "@/services/reports/report";
import { openCompared, type Compared } from "@/services/conclusions/comparison";
import { answerFor, letteredRigs, type LetteredRig, type StudyAnswer } from "@/core/answer/study";
import type { ShownComparison } from "@/core/compare/shown";
import { knownIn } from "@/core/conclude/counting";
import type { Judged } from "@/core/judge/judged";
import { Origin } from "@/core/study/measurement";
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
  /** Whether all rigs are shown, however many there are. */
  all: boolean;
}

export async function asked(query: Query): Promise<Asked> {
  const { direction, unit, drill, origin, rigs } = await query;
  return {
    direction: Direction.catch("read").parse(direction),
    unit: RateUnit.safeParse(unit).data ?? (await unitOfReader()),
    drill: typeof drill === "string" && findDrill(drill) ? drill : null,
    origin: Origin.safeParse(origin).data ?? null,
    all: rigs === "all",
  };
}

/** The stages of a study and how each stands. */
export function courseOf(
  { study, rigs, measurements }: Pick<Compared, "study" | "rigs" | "measurements">,
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
  const found = answers.flatMap(({ answer }) => Object.values(answer.findings).filter(Boolean));
  const standings = answers.flatMap(({ rigs: all }) =>
    all.flatMap(({ standing }) => standing ?? []),
  );
  const held = standings.filter(({ likeliest }) => likeliest?.kind !== "as-designed");
  const settled = held.filter(({ settled: sure }) => sure);
  // Of some this shelf cannot tell which of several it is.
  const several = settled.filter(({ likeliest }) => likeliest && likeliest.others > 0).length;
  const located = settled.length - several;
  // Of very many rigs not all are looked at by themselves.
  const unseen = answers
    .flatMap(({ rigs: all }) => all)
    .filter(({ finding, standing }) => finding?.kind === "below" && !standing).length;
  const toLocate = held.length + unseen;
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
          : toLocate === 0
            ? "all as designed"
            : toLocate === located
              ? `${counted(located, "narrows", "narrows")} found`
              : `${located} of ${toLocate} found${several > 0 ? `, ${several} not told apart` : ""}`,
      done: found.length > 1 && located === toLocate,
    },
    {
      name: "Judge",
      href: `${base}/judge`,
      state:
        judged.length === 0
          ? "no claims"
          : `${counted(told, "verdict")}, ${judged.length - told} open`,
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
 * @param located whether what holds rigs back is worked out too
 */
export function keptAnswers(
  kept: Compared,
  { drill, unit, origin }: Pick<Asked, "drill" | "unit" | "origin"> = USUALLY_ASKED,
  located = true,
): StudyAnswer[] {
  const key = JSON.stringify(["answers", drill, unit, origin, located]);
  return remembered(kept, key, () => {
    const conclusions = conclusionsOf(services().store, kept, origin ? { origin } : {});
    const rates = ratesIn(unit);
    return Direction.options.map((direction) =>
      answerFor(kept.study, conclusions, direction, { drill, rates, located }),
    );
  });
}

const USUALLY_ASKED = { drill: null, unit: "MB/s", origin: null } as const;

/** Every claim of a study that is kept, judged once. */
export const keptJudged = (kept: Compared): readonly Judged[] =>
  conclusionsOf(services().store, kept).judged();

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
  const all = letteredRigs({ rigs, knownIn: known }, drillNamed(first.drill), first.direction);
  return rows
    .slice(0, MOST_DRAWN)
    .flatMap(({ rigId }) => all.find(({ rig }) => rig.id === rigId) ?? []);
}
