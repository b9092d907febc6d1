import { findSources, watchSources } from "@/services/watching/watching";
import { services } from "@/services/services";
import { eventStream } from "../../events";
import { respond } from "../../respond";

/** What drives and interfaces move, by the kernel's counters, again and again. */
export async function GET(request: Request): Promise<Response> {
  try {
    const { hosts } = services();
    const query = new URL(request.url).searchParams;
    const watched = await findSources(query, (name) => hosts.has(name));
    return eventStream(request, (send) =>
      watchSources(watched, (looked) => send("looked", looked)),
    );
  } catch (problem) {
    return respond(() => {
      throw problem;
    });
  }
}
