import { bench } from "@/bench/bench";
import type { DeskEvent } from "@/bench/desk";
import { measurement } from "@/bench/studies";
import { respond, type Params } from "../../../respond";

/** More of a trace than a page can show; what is over that is joined with its neighbours. */
const MOST_SAMPLES = 6000;

/** A measurement as it happens: first all there is so far, then each event (Server-Sent Events). */
export async function GET(request: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  const { store, desk } = bench();
  try {
    measurement(store, id);
  } catch (problem) {
    return respond(() => {
      throw problem;
    });
  }
  const encoder = new TextEncoder();
  let leave: (() => void) | null = null;
  const stream = new ReadableStream({
    start(controller) {
      const send = (name: string, data: unknown) =>
        controller.enqueue(encoder.encode(`event: ${name}\ndata: ${JSON.stringify(data)}\n\n`));
      const end = () => {
        leave?.();
        controller.close();
      };
      // No await between the two: nothing is missed and nothing told twice.
      send("snapshot", measurement(store, id, MOST_SAMPLES));
      leave = desk.follow(id, (event: DeskEvent) => {
        send("progress", event);
        if (event.event === "ended") end();
      });
      if (!leave) end();
    },
    cancel: () => leave?.(),
  });
  request.signal.addEventListener("abort", () => leave?.());
  return new Response(stream, {
    headers: {
      "Content-Type": "text/event-stream; charset=utf-8",
      "Cache-Control": "no-cache, no-transform",
    },
  });
}
