import { programFile } from "@/services/elsewhere/programs";
import { attachment } from "../../attachment";
import { respond, type Params } from "../../respond";

/** The program for one system, to be saved. */
export async function GET(_: Request, { params }: Params<"system">): Promise<Response> {
  try {
    const { name, bytes } = programFile((await params).system);
    return new Response(bytes, {
      headers: {
        "Content-Type": "application/octet-stream",
        "Content-Disposition": attachment(name),
        "Cache-Control": "no-store",
      },
    });
  } catch (problem) {
    return respond(() => {
      throw problem;
    });
  }
}
