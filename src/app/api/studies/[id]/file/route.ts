import { bench } from "@/bench/bench";
import { isProblem } from "@/bench/problem";
import { saveStudy } from "@/bench/study-file";
import { respond, type Params } from "../../../respond";

const TYPES = { json: "application/json", zip: "application/zip" };

/** A study as a file; with long traces it is an archive. */
export async function GET(_: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  try {
    const { bytes, kind } = saveStudy(bench().store, id);
    return new Response(new Uint8Array(bytes), {
      headers: {
        "Content-Type": TYPES[kind],
        "Content-Disposition": `attachment; filename="nerrit-study-${id.slice(0, 20)}.${kind}"`,
      },
    });
  } catch (error) {
    if (!isProblem(error)) throw error;
    return respond(() => {
      throw error;
    });
  }
}
