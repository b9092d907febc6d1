import { services } from "@/services/services";
import { importShelf } from "@/services/shelf/shelf";
import { readText, respond } from "../../respond";

/** Some ten thousand parts. */
const FILE_LIMIT = 16 * 1024 * 1024;

export const POST = (request: Request) =>
  respond(
    async () => ({ added: importShelf(services().store, await readText(request, FILE_LIMIT)) }),
    201,
  );
