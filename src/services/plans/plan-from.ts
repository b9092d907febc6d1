import { kindOf, type Drill } from "@/core/drills/drill";
import { MeasureRequest } from "@/core/drills/request";
import type { KnownCache, TargetFacts } from "@/core/drills/parameter";
import { factsAt } from "@/core/plan/fill-levels";
import { orderSteps, type Ordered } from "@/core/plan/order";
import { PlanRequest, type Plan } from "@/core/plan/plan";
import { ballastAt } from "@/engine/ballast/places";
import { targetFacts } from "@/engine/target/facts";
import { reserveOf } from "@/engine/target/target";
import type { Store } from "@/store/database";
import { cacheOf } from "../measuring/cache";
import { orderFor } from "../measuring/order";
import { checked, Problem, unrefused } from "../problem";
import { openStudy } from "../studies/studies";

/**
 * Makes a plan of what a tester asks for: every drill exactly as it will be done, the same for all rigs,
 * as it is usual where the first of them is measured.
 *
 * @throws Problem that names what makes no sense
 */
export async function planFrom(
  store: Store,
  studyId: string,
  input: unknown,
): Promise<{ plan: Plan } & Ordered> {
  const request = checked(PlanRequest, input);
  const { rigs } = openStudy(store, studyId);
  const chosen = request.rigs.map(({ rigId }) => {
    const rig = rigs.find((one) => one.id === rigId);
    if (!rig) throw new Problem(422, "A rig of the plan is not in this study.");
    return rig;
  });
  const [first] = request.rigs as [PlanRequest["rigs"][number]];
  const cache = cacheOf(store, chosen[0]!);
  const drills: Drill[] = [];
  const levels = request.fillLevels.length > 0 ? request.fillLevels : [null];
  for (const level of levels) {
    const facts =
      level === null ? undefined : await factsFor(first.target, level, request.reserve, cache);
    for (const { name, ...set } of request.drills) {
      const asked = { ...set, ...first, drill: name, repeats: 1, reserve: request.reserve };
      const { drill } = await orderFor(checked(MeasureRequest, asked), cache, facts);
      if (kindOf(drill).targets === "several") {
        throw new Problem(
          422,
          `${kindOf(drill).title} needs several drives: measure it by itself.`,
        );
      }
      drills.push(drill);
    }
  }
  const plan: Plan = { ...request, drills };
  return { plan, ...orderSteps(plan, rigs) };
}

/**
 * What is known of a place once it is filled to a level.
 *
 * @throws Problem where the level cannot be reached
 */
async function factsFor(
  target: string,
  level: number,
  reserve: number | null,
  cache: KnownCache | null,
): Promise<TargetFacts | null> {
  const facts = await unrefused(targetFacts(target, reserve, cache));
  if (!facts) return null;
  const { space } = facts;
  if (!space) throw new Problem(422, `${target} is a block device: ballast needs a directory.`);
  const held = (await ballastAt(target))?.bytes ?? 0;
  const then = factsAt(level, facts, space, held, reserveOf(reserve, space.total));
  if (typeof then === "string") throw new Problem(422, then);
  return then;
}
