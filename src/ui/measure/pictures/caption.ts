import { kindOf, titleOf } from "@/core/drills/drill";
import { settingsWords, type Measurement } from "@/core/study/measurement";
import { formatMoment } from "@/core/units/day";
import type { Caption } from "../../out/framed-svg";
import { WAYS } from "../form/ways";

/** What stands on a picture of a measurement when it is saved. */
export function captionOf({ rig, drill, origin, createdAt }: Measurement): Caption {
  const when = formatMoment(createdAt);
  const how = origin === "measured" ? "Measured" : origin === "simulated" ? "Simulated" : origin;
  return {
    title: `${rig.name}: ${titleOf(drill)}, ${WAYS[drill.direction]}`,
    note: `${kindOf(drill).what}: ${settingsWords({ drill, origin })}. ${how}, ${when}.`,
  };
}
