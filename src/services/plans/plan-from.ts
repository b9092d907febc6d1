import { kindOf, type Drill } from "@/core/drills/drill";
import { MeasureRequest } from "@/core/drills/request";
import { factsAt as factsAtLevel } from "@/core/plan/fill-levels";
import { placeFrom } from "@/core/units/place";
import { orderSteps, type Ordered } from "@/core/plan/order";
import { PlanRequest, type Plan } from "@/core/plan/plan";
import { ballastAt } from "@/engine/ballast/places";
import { reserveOf } from "@/engine/target/target";
import type { Store } from "@/store/database";
import { cacheOf } from "../measuring/cache";
import { thisMachine, type Machines } from "../hosts/machines";
import { factsAt, orderFor, type LookAt } from "../measuring/order";
import { checked, Problem } from "../problem";
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
  machines: Machines = thisMachine(),
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
    const look = level === null ? factsAt(machines) : onceFilled(level, factsAt(machines));
    for (const { name, ...set } of request.drills) {
      const asked = { ...set, ...first, drill: name, repeats: 1, reserve: request.reserve };
      const { drill } = await orderFor(checked(MeasureRequest, asked), cache, look);
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
 * What is known of a place once it is filled to a level; the looking throws Problem where the level cannot be
 * reached.
 */
const onceFilled =
  (level: number, look: LookAt): LookAt =>
  async (target, reserve, cache) => {
    if (placeFrom(target).host !== null)
      throw new Problem(422, `${target} is on another host: ballast is for this machine's drives.`);
    const facts = await look(target, reserve, cache);
    if (!facts) return null;
    const { space } = facts;
    if (!space) throw new Problem(422, `${target} is a block device: ballast needs a directory.`);
    const held = (await ballastAt(target))?.bytes ?? 0;
    const then = factsAtLevel(level, facts, space, held, reserveOf(reserve, space.total));
    if (typeof then === "string") throw new Problem(422, then);
    return then;
  };
