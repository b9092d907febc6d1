import { services } from "@/services/services";
import { keepPhoto } from "@/services/shelf/photo";
import { MOST_PHOTO_BYTES } from "@/core/study/photo";
import { readBytes, respond } from "../respond";

/** Keeps a picture of the bench, a part, a rig or a run; what shows it names it by its identifier. */
export const POST = (request: Request) =>
  respond(async () => keepPhoto(services().store, await readBytes(request, MOST_PHOTO_BYTES)), 201);
