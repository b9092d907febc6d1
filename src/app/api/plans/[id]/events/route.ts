import { services } from "@/services/services";
import { eventStream } from "../../../events";
import { respond, type Params } from "../../../respond";

/** A plan, at once and whenever it changes. */
export async function GET(request: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  const { planner } = services();
  try {
    planner.view(id);
  } catch (problem) {
    return respond(() => {
      throw problem;
    });
  }
  return eventStream(request, (send) => planner.follow(id, (view) => send("plan", view)));
}
