import { bench } from "./bench";

/** Opens the bench when the server starts, and ends it cleanly on a signal. */
export function open(): void {
  const { desk, planner, store } = bench();
  let ending = false;
  const end = async () => {
    if (ending) return;
    ending = true;
    await Promise.all([desk.shutDown(), planner.shutDown()]);
    store.$client.close();
    process.exit(0);
  };
  process.on("SIGTERM", end);
  process.on("SIGINT", end);
}
