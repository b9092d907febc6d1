import { services } from "@/services/services";
import { isProblem } from "@/services/problem";
import { studyFileName } from "@/services/file-names";
import { saveStudy } from "@/services/studies/save-study";
import { attachment } from "../../../attachment";
import { respond, type Params } from "../../../respond";

const TYPES = { json: "application/json", zip: "application/zip" };

/** A study as a file; with long traces it is an archive. */
export async function GET(_: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  try {
    const { store, recordings } = services();
    const { bytes, kind } = saveStudy(store, id, (sha256) => recordings.fileWith(sha256));
    return new Response(new Uint8Array(bytes), {
      headers: {
        "Content-Type": TYPES[kind],
        "Content-Disposition": attachment(`${studyFileName(store, id)}.${kind}`),
      },
    });
  } catch (error) {
    if (!isProblem(error)) throw error;
    return respond(() => {
      throw error;
    });
  }
}
