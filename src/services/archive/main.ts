import { createHash } from "node:crypto";
import os from "node:os";
import path from "node:path";
import { ArchiveProblem } from "@/archive/archive-problem";
import { ask } from "@/archive/ask";
import { look } from "@/archive/look";
import { readStudyBack } from "@/archive/read-study";
import { ArchiveWriter } from "@/archive/writer";
import type { ArchiveProgress } from "@/core/archive/view";
import { databaseIn } from "@/store/database";
import { takeLock } from "@/store/lock";
import { openToRead } from "@/store/open-to-read";
import { StoreProblem } from "@/store/store-problem";
import { gather } from "./gather";
import type { ArchiveOrder, ArchiveSaid } from "./order";

/** The program of a process that writes an archive or answers from archives, and ends. */
const say = (said: ArchiveSaid) => new Promise<void>((told) => process.send!(said, () => told()));

/** Progress is said so often, milliseconds. */
const SAID_EACH_MS = 250;

async function done(order: ArchiveOrder): Promise<ArchiveSaid> {
  switch (order.do) {
    case "archive":
      return { archived: await archive(order) };
    case "ask":
      return { answer: await ask(order.archives, order.sql, order) };
    case "study":
      return { study: JSON.stringify(await readStudyBack(order.archives, order.studyId)) };
    case "look":
      return { look: await look(order.archive) };
  }
}

async function archive({
  data,
  migrations,
  to,
  samples,
}: Extract<ArchiveOrder, { do: "archive" }>): Promise<ArchiveProgress> {
  const store = openToRead(databaseIn(data), migrations);
  const free = takeLock(path.join(data, "archive.lock"));
  if (!free)
    throw new ArchiveProblem("This bench is being archived already. Wait for the end of that.");
  let writer: ArchiveWriter | null = null;
  try {
    // The same for this bench each time, and another for each other bench that writes there.
    const name = createHash("sha256")
      .update(`${os.hostname()}\n${data}`)
      .digest("hex")
      .slice(0, 12);
    const at = new Date().toISOString();
    const batch = `${at.slice(0, 19).replaceAll(/[-:]/g, "")}Z-${name}-${process.pid}`;
    writer = await ArchiveWriter.open(to, name, batch);
    // All of it as it is at one moment, whatever a server beside it removes meanwhile.
    store.$client.exec("begin");
    let saidAt = 0;
    const gathered = await gather(store, writer, { samples, host: os.hostname(), at }, (now) => {
      if (performance.now() - saidAt < SAID_EACH_MS) return;
      saidAt = performance.now();
      void say({ progress: now });
    });
    await writer.finish();
    return gathered;
  } finally {
    writer?.close();
    store.$client.close();
    free();
  }
}

const isPlain = (error: unknown) =>
  error instanceof ArchiveProblem || error instanceof StoreProblem;

process.once("message", async (order: ArchiveOrder) => {
  let said: ArchiveSaid;
  try {
    said = await done(order);
  } catch (error) {
    const { message, stack } = error as Error;
    said = { problem: isPlain(error) ? message : (stack ?? message) };
  }
  await say(said);
  process.exit(0);
});
// Whoever asked is gone: what is not in its place yet is dropped, or goes on next time.
process.on("disconnect", () => process.exit(1));
