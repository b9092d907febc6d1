import { services } from "@/services/services";
import type { MeasurementEvent } from "@/core/study/measurement-event";
import { measurement } from "@/services/studies/studies";
import { eventStream } from "../../../events";
import { respond, type Params } from "../../../respond";

/** More of a trace than a page can show; what is over that is joined with its neighbours. */
const MOST_SAMPLES = 6000;

/** Told together, so that whoever looks takes little of the processor from the measuring. */
const TOGETHER_MS = 500;

/** A measurement as it happens: first all there is so far, then what happens, several events at a time. */
export async function GET(request: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  const { store, desk } = services();
  try {
    measurement(store, id);
  } catch (problem) {
    return respond(() => {
      throw problem;
    });
  }
  return eventStream(request, (send, end) => {
    // No await between the two: nothing is missed and nothing told twice.
    send("snapshot", desk.keeper.withEnd(measurement(store, id, MOST_SAMPLES)));
    let waiting: MeasurementEvent[] = [];
    let timer: NodeJS.Timeout | undefined;
    const tell = () => {
      timer = undefined;
      send("progress", waiting);
      waiting = [];
    };
    const leave = desk.follow(id, (event: MeasurementEvent) => {
      waiting.push(event);
      timer ??= setTimeout(tell, TOGETHER_MS);
      if (event.event !== "ended") return;
      clearTimeout(timer);
      tell();
      end();
    });
    return (
      leave &&
      (() => {
        clearTimeout(timer);
        leave();
      })
    );
  });
}
