import * as z from "zod";
import type { PlanView } from "@/core/plan/view";
import type { Planner } from "./planner";
import { checked } from "../problem";

const Steering = z.discriminatedUnion("do", [
  z.object({ do: z.enum(["go", "pause", "abort"]) }),
  z.object({ do: z.enum(["skip", "again"]), step: z.string() }),
  z.object({ do: z.literal("move"), step: z.string(), before: z.string().nullable() }),
]);

/**
 * Does to a plan what a tester asks for.
 *
 * @returns how it stands then
 * @throws Problem where that cannot be done
 */
export function steer(planner: Planner, id: string, input: unknown): PlanView {
  const asked = checked(Steering, input);
  planner.view(id);
  switch (asked.do) {
    case "go":
    case "pause":
    case "abort":
      planner[asked.do](id);
      break;
    case "skip":
    case "again":
      planner[asked.do](id, asked.step);
      break;
    case "move":
      planner.move(id, asked.step, asked.before);
  }
  return planner.view(id);
}
