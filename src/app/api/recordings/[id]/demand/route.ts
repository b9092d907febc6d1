import { services } from "@/services/services";
import { demandFromRecording } from "@/services/recordings/demand-of-work";
import { readJson, respond, type Params } from "../../../respond";

/** Adds recorded work to the demands of a study. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(
    async () => demandFromRecording(services(), (await params).id, await readJson(request)),
    201,
  );
