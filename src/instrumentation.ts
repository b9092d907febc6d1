/** Runs once when the server starts: opens the bench, and ends it cleanly on a signal. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== "nodejs") return;
  const { bench } = await import("@/bench/bench");
  const { desk, store } = bench();
  let ending = false;
  const end = async () => {
    if (ending) return;
    ending = true;
    await desk.shutDown();
    store.$client.close();
    process.exit(0);
  };
  process.on("SIGTERM", end);
  process.on("SIGINT", end);
}
