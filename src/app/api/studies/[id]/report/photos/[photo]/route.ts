import { bench } from "@/bench/bench";
import { openPhoto } from "@/bench/photo";
import { isProblem } from "@/bench/problem";
import { respond, type Params } from "../../../../../respond";

/** A picture of the bench, as it was kept. */
export async function GET(_: Request, { params }: Params<"photo">): Promise<Response> {
  try {
    const { bytes, type } = openPhoto(bench().store, (await params).photo);
    return new Response(new Uint8Array(bytes), { headers: { "Content-Type": type } });
  } catch (error) {
    if (!isProblem(error)) throw error;
    return respond(() => {
      throw error;
    });
  }
}
