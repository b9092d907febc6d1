import { services } from "@/services/services";
import { isProblem } from "@/services/problem";
import { saveStudy } from "@/services/studies/save-study";
import { respond, type Params } from "../../../respond";

const TYPES = { json: "application/json", zip: "application/zip" };

/** A study as a file; with long traces it is an archive. */
export async function GET(_: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  try {
    const { bytes, kind } = saveStudy(services().store, id);
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
