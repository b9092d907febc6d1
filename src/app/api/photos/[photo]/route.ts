import { services } from "@/services/services";
import { openPhoto } from "@/services/shelf/photo";
import { isProblem } from "@/services/problem";
import { respond, type Params } from "../../respond";

/** A picture of the bench, as it was kept. */
export async function GET(_: Request, { params }: Params<"photo">): Promise<Response> {
  try {
    const { bytes, type } = openPhoto(services().store, (await params).photo);
    return new Response(new Uint8Array(bytes), { headers: { "Content-Type": type } });
  } catch (error) {
    if (!isProblem(error)) throw error;
    return respond(() => {
      throw error;
    });
  }
}
