import { findSources, watchSources } from "@/services/watching/watching";
import { eventStream } from "../../events";
import { respond } from "../../respond";

/** What drives and interfaces move, by the kernel's counters, again and again. */
export async function GET(request: Request): Promise<Response> {
  try {
    const { sources, everyMs } = await findSources(new URL(request.url).searchParams);
    return eventStream(request, (send) =>
      watchSources(sources, everyMs, (looked) => send("looked", looked)),
    );
  } catch (problem) {
    return respond(() => {
      throw problem;
    });
  }
}
