import * as z from "zod";
import { services } from "@/services/services";
import { askSystem } from "@/services/plugged/system";
import { checked } from "@/services/problem";
import { shelfFor } from "@/services/shelf/shelf";
import { fillRig } from "@/core/system/fill";
import { byName } from "@/core/units/natural";
import { readJson, respond } from "../respond";

/** More cables than anybody looks through in a list. */
const MOST_CABLES = 60;

/** The study whose rig it is to be: sample parts stand in sample studies only. */
const Asked = z.object({ study: z.string().optional() });

/** What the system knows of a path, and the rig that this makes with what is on the shelf. */
export const POST = (request: Request) =>
  respond(async () => {
    const asked = await readJson(request);
    const report = await askSystem(asked, services().hosts);
    const { study } = checked(Asked, asked);
    const { store } = services();
    const parts = shelfFor(store, study ?? null);
    const cables = byName(parts.filter(({ kind }) => kind === "cable")).slice(0, MOST_CABLES);
    return {
      report,
      filled: fillRig(report, parts),
      cables: cables.map(({ id, name, tag }) => ({ id, name, tag })),
    };
  });
