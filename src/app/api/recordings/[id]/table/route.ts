import { Readable } from "node:stream";
import { services } from "@/services/services";
import { attachment } from "../../../attachment";
import { respond, type Params } from "../../../respond";

/** The requests of a recording as a table. */
export async function GET(_: Request, { params }: Params<"id">): Promise<Response> {
  try {
    const { id } = await params;
    return new Response(Readable.toWeb(services().recordings.table(id)) as ReadableStream, {
      headers: {
        "Content-Type": "text/csv; charset=utf-8",
        "Content-Disposition": attachment(`nerrit-recording-${id}.csv`),
        "Cache-Control": "no-store",
      },
    });
  } catch (problem) {
    return respond(() => {
      throw problem;
    });
  }
}
