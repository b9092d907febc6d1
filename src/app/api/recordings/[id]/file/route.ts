import fs from "node:fs";
import { Readable } from "node:stream";
import { services } from "@/services/services";
import { attachment } from "../../../attachment";
import { respond, type Params } from "../../../respond";

/** A recording, to be saved. */
export async function GET(_: Request, { params }: Params<"id">): Promise<Response> {
  try {
    const { id } = await params;
    const { path } = services().recordings.file(id);
    const body = Readable.toWeb(fs.createReadStream(/* turbopackIgnore: true */ path));
    return new Response(body as ReadableStream, {
      headers: {
        "Content-Type": "application/x-ndjson",
        "Content-Disposition": attachment(`nerrit-recording-${id}.jsonl`),
        "Cache-Control": "no-store",
      },
    });
  } catch (problem) {
    return respond(() => {
      throw problem;
    });
  }
}
