import { letterOf } from "@/core/answer/lettered-rig";
import { bottleneckOf } from "@/core/chain/bottleneck";
import { bareSerial } from "@/core/system/detected";
import type { RigToWatch } from "@/core/watch/rig";
import type { Store } from "@/store/database";
import { listStudies } from "../studies/studies";

/** Every rig of the tester's own studies. */
export const rigsToWatch = (store: Store): RigToWatch[] =>
  listStudies(store)
    .filter(({ study }) => !study.simulated)
    .flatMap(({ study, rigs }) =>
      rigs.map((rig, i) => ({
        id: rig.id,
        text: `${study.title}: ${letterOf(i)} · ${rig.name}`,
        ceilings: {
          read: bottleneckOf(rig, "read")?.ceiling ?? null,
          write: bottleneckOf(rig, "write")?.ceiling ?? null,
        },
        serials: rig.parts
          .slice(-2)
          .filter(({ kind, serial }) => serial && (kind === "drive" || kind === "enclosure"))
          .map(({ serial }) => bareSerial(serial)),
      })),
    );
