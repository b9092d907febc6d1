import { closeSync, constants, fsync, read } from "node:fs";
import { promisify } from "node:util";
import type { Copy } from "@/core/run/program";
import { native } from "../lanes/native";
import type { Telling } from "../outside";
import type { Held } from "../target/scratch";
import type { CopyFile } from "./files";
import { Tree } from "./tree";

/** What is done with the content of a folder's files before and after it is copied. */

const { O_RDONLY } = constants;
const [readFrom, synced] = [promisify(read), promisify(fsync)];

/** Brings the source into memory, or out of it. */
export async function readySource(
  source: Copy["source"],
  folder: Held,
  files: readonly CopyFile[],
): Promise<void> {
  if (source === "as it is") return;
  const tree = new Tree(folder.fd);
  try {
    for (const { name } of files) {
      const fd = tree.open(name, O_RDONLY);
      try {
        if (source === "cold") {
          await synced(fd).catch(() => undefined); // only what is on the medium can be dropped
          native()?.forget(fd);
        } else {
          const data = Buffer.alloc(2 ** 20);
          while ((await readFrom(fd, data, 0, data.length, null)).bytesRead > 0);
        }
      } finally {
        closeSync(fd);
      }
    }
  } finally {
    tree.close();
  }
}

/** Holds every file of a copy against its source. @returns names that differ; null when it was stopped */
export async function compare(
  files: readonly CopyFile[],
  source: Held,
  destination: Held,
  telling: Telling,
): Promise<string[] | null> {
  const differing: string[] = [];
  const [a, b] = [Buffer.alloc(2 ** 20), Buffer.alloc(2 ** 20)];
  const trees = [new Tree(source.fd), new Tree(destination.fd)] as const;
  for (const { name } of files) {
    if (telling.stopped) return null;
    const [one, other] = trees.map((tree) => tree.open(name, O_RDONLY)) as [number, number];
    try {
      native()?.forget(other);
      for (;;) {
        const [left, right] = await Promise.all([
          readFrom(one, a, 0, a.length, null),
          readFrom(other, b, 0, b.length, null),
        ]);
        const same =
          left.bytesRead === right.bytesRead &&
          a.compare(b, 0, left.bytesRead, 0, left.bytesRead) === 0;
        if (!same) differing.push(name);
        if (!same || left.bytesRead === 0) break;
      }
    } finally {
      for (const fd of [one, other]) closeSync(fd);
    }
  }
  for (const tree of trees) tree.close();
  return differing;
}
