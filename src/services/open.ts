import { StoreProblem } from "@/store/store-problem";
import { endServices, services } from "./services";
import { guardRequests } from "./gate";

/** Said on standard output once the data folder is open: scripts/start.mjs waits for it. */
const OPENED = "nerrit: the data folder is open";

/**
 * Opens the bench when the server starts, and ends it cleanly on a signal. Where the data folder cannot be
 * worked with, the server says why and ends: no page of it could be shown.
 */
export function open(): void {
  opened();
  guardRequests(process.env.NERRIT_ANY_USER === "1");
  console.log(OPENED);
  let ending = false;
  const end = async () => {
    if (ending) return;
    ending = true;
    await endServices();
    process.exit(0);
  };
  process.on("SIGTERM", end);
  process.on("SIGINT", end);
}

function opened(): void {
  try {
    services();
  } catch (error) {
    const words = error instanceof StoreProblem ? error.message : String((error as Error).stack);
    console.error(`nerrit: ${words}`);
    process.exit(1);
  }
}
