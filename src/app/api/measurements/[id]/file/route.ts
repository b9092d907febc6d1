import { runFileName } from "@/services/file-names";
import { services } from "@/services/services";
import { measurementFile } from "@/services/elsewhere/runs-file";
import { attachment } from "../../../attachment";
import { respond, type Params } from "../../../respond";

/** A measurement as a file of runs, with every sample. */
export async function GET(_request: Request, { params }: Params<"id">): Promise<Response> {
  try {
    const { id } = await params;
    return new Response(measurementFile(services().store, id), {
      headers: {
        "Content-Type": "application/json; charset=utf-8",
        "Content-Disposition": attachment(`${runFileName(services().store, id)}.json`),
      },
    });
  } catch (problem) {
    return respond(() => {
      throw problem;
    });
  }
}
