import { randomUUID } from "node:crypto";
import * as z from "zod";
import { OUTCOME, OutcomeKind } from "@/core/drills/kinds/outcome";
import { UNSAID } from "@/core/run/stated";
import { line } from "@/core/units/text";
import type { Store } from "@/store/database";
import { checked } from "../problem";
import { insertRecorded } from "./runs-file";
import { rigOfStudy, type Taken } from "./taken";

const Input = z.object({
  rigId: z.string(),
  outcome: OutcomeKind,
  words: line(400).default(""),
  /** When it was seen; left out: now. */
  at: z.iso.datetime({ offset: true }).optional(),
});

/** Takes in that a rig does not work: a result like any other, without a rate. @throws Problem */
export function addOutcome(store: Store, studyId: string, input: unknown): Taken {
  const { rigId, outcome, words, at } = checked(Input, input);
  const rig = rigOfStudy(store, studyId, rigId);
  const id = randomUUID();
  const createdAt = at ?? new Date().toISOString();
  store.transaction(() =>
    insertRecorded(store, studyId, rig, {
      id,
      origin: "typed",
      status: "failed",
      reason: words || null,
      createdAt,
      drill: { name: OUTCOME.name, direction: "mixed", repeats: 1, outcome } as never,
      stated: UNSAID,
      conditions: null,
      targets: ["seen by the tester"],
      warmUp: false,
      runs: [
        {
          status: "failed",
          startedAt: createdAt,
          steps: [],
          samples: [],
          events: [],
          readings: [],
          errors: [],
        },
      ],
    }),
  );
  return { measurementIds: [id], rigIds: [], partIds: [] };
}
