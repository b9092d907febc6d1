import { bench } from "@/bench/bench";
import { askSystem } from "@/bench/system";
import { shelf } from "@/bench/shelf";
import { fillRig } from "@/core/system/fill";
import { readJson, respond } from "../respond";

/** What the system knows of a path, and the rig that this makes with what is on the shelf. */
export const POST = (request: Request) =>
  respond(async () => {
    const report = await askSystem(await readJson(request));
    const parts = shelf(bench().store).filter(({ retired }) => !retired);
    return { report, filled: fillRig(report, parts) };
  });
