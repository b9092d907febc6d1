import { ladderBy } from "@/core/drills/catalogue";
import { randomUUID } from "node:crypto";
import type { Rig } from "@/core/chain/rig";
import { defineFrom } from "@/core/drills/drill";
import { rateOfFigure } from "@/core/elsewhere/figure";
import type { PastedLadder } from "@/core/elsewhere/ladder";
import { typedStep } from "@/core/exchange/study-run";
import { UNSAID } from "@/core/run/stated";
import type { Store } from "@/store/database";
import { checkedBy, Problem } from "../problem";
import { insertRecorded } from "./runs-file";
import type { Taken } from "./taken";
import { runOf } from "./typed";

/**
 * Takes a whole ladder in, a measurement for each way.
 *
 * @param common what all of its steps have: requests in flight of one by size, bytes of one by depth; null: as usual
 * @throws Problem where a way has fewer than two steps
 */
export function takeLadder(
  store: Store,
  rig: Rig,
  studyId: string,
  { by, directions, rows }: PastedLadder,
  common: number | null,
): Taken {
  return store.transaction(() => {
    const measurementIds = directions.map((direction) => {
      const steps = rows.filter(({ figures }) => figures[direction]);
      if (steps.length < 2)
        throw new Problem(422, `A ladder has at least two steps; of ${direction} there are fewer.`);
      const ats = steps.map(({ at }) => at);
      const set =
        by === "block"
          ? {
              name: ladderBy("block").name,
              blocks: ats,
              ...(common === null ? {} : { depth: common }),
            }
          : {
              name: ladderBy("depth").name,
              depths: ats,
              ...(common === null ? {} : { block: common }),
            };
      const drill = checkedBy(() => defineFrom({ ...set, direction, repeats: 1 }, null));
      const id = randomUUID();
      const createdAt = new Date().toISOString();
      insertRecorded(store, studyId, rig, {
        id,
        origin: "typed",
        drill,
        status: "done",
        reason: null,
        createdAt,
        warmUp: false,
        stated: UNSAID,
        conditions: null,
        targets: ["pasted ladder"],
        runs: [
          runOf(
            steps.map(({ at, figures }) => {
              const block = by === "block" ? at : (drill as unknown as { block: number }).block;
              const mbps = rateOfFigure(figures[direction]!, block);
              const label = by === "block" ? { block } : { depth: at, block };
              return { ...typedStep(drill, mbps, 0, 0), label };
            }),
            createdAt,
          ),
        ],
      });
      return id;
    });
    return { measurementIds, rigIds: [], partIds: [] };
  });
}
