import { services } from "@/services/services";
import { keepPhoto } from "@/services/shelf/photo";
import { openStudy } from "@/services/studies/studies";
import { MOST_PHOTO_BYTES } from "@/core/study/photo";
import { readBytes, respond, type Params } from "../../../../respond";

/** Keeps a picture of the bench for a study's report. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { store } = services();
    openStudy(store, (await params).id);
    return keepPhoto(store, await readBytes(request, MOST_PHOTO_BYTES));
  }, 201);
