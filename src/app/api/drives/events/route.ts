import { services } from "@/services/services";
import { eventStream } from "../../events";

/** The drives that the system has, at once and whenever that changes. */
export const GET = (request: Request) =>
  eventStream(request, (send) => services().plugged.follow((drives) => send("drives", { drives })));
