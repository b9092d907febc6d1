import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { nerrit } from "../support/command";
import { LONG } from "../support/long";
import { makeLoop, whyNoDevices, type LoopDevice } from "../support/loop-device";

const why = whyNoDevices();
if (why) console.warn(`skipped: the zoo of file systems (${why})`);

const run = (command: string, ...args: string[]) =>
  execFileSync(command, args, { encoding: "utf8", stdio: ["ignore", "pipe", "pipe"] }).trim();

interface Kind {
  name: string;
  make: (device: string) => void;
  mount: (device: string, directory: string) => void;
  tools: string[];
  /** Whether npm test does it too: one of the kernel's, and one in a process. */
  isFirst?: boolean;
}

const plain = (device: string, directory: string) => void run("mount", device, directory);
const KINDS: Kind[] = [
  {
    name: "ext4",
    make: (device) => run("mkfs.ext4", "-q", "-F", device),
    mount: plain,
    tools: ["mkfs.ext4"],
  },
  {
    name: "xfs",
    make: (device) => run("mkfs.xfs", "-q", "-f", device),
    mount: plain,
    tools: ["mkfs.xfs"],
    isFirst: true,
  },
  {
    name: "btrfs",
    make: (device) => run("mkfs.btrfs", "-q", "-f", device),
    mount: plain,
    tools: ["mkfs.btrfs"],
  },
  {
    name: "exfat, through FUSE",
    make: (device) => run("mkfs.exfat", device),
    mount: (device, directory) => run("mount.exfat-fuse", device, directory),
    tools: ["mkfs.exfat", "mount.exfat-fuse"],
    isFirst: true,
  },
  {
    name: "ntfs, through FUSE",
    make: (device) => run("mkfs.ntfs", "-q", "-F", "-f", device),
    mount: (device, directory) => run("ntfs-3g", device, directory),
    tools: ["mkfs.ntfs", "ntfs-3g"],
  },
];

const missing = ({ tools }: Kind) =>
  tools.find((tool) => {
    try {
      run("which", tool);
      return false;
    } catch {
      return true;
    }
  });

for (const kind of why ? [] : KINDS) {
  const lacks = missing(kind);
  if (lacks) console.warn(`skipped: ${kind.name} (needs ${lacks})`);

  describe.skipIf(lacks)(`on ${kind.name}`, kind.isFirst ? {} : LONG, () => {
    const on = async (work: (directory: string, device: LoopDevice) => Promise<void>) => {
      const device = makeLoop(400);
      const directory = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-zoo-"));
      try {
        kind.make(device.device);
        kind.mount(device.device, directory);
        try {
          await work(directory, device);
        } finally {
          run("umount", directory);
        }
      } finally {
        fs.rmdirSync(directory);
        device.remove();
      }
    };
    const measure = async (directory: string, ...more: string[]) => {
      const args = ["measure", "--target", directory, "--reserve", "1MiB", "--json", ...more];
      const { status, stdout, stderr } = await nerrit(args);
      return { status, stderr, document: stdout ? JSON.parse(stdout) : null };
    };

    it("reads and writes past memory, or says that it cannot, and leaves nothing", () =>
      on(async (directory) => {
        const mine = path.join(directory, "mine.txt");
        fs.writeFileSync(mine, "mine");
        const before = fs.readdirSync(directory).sort();
        for (const direction of ["read", "write"]) {
          const asked = ["--direction", direction, "--seconds", "1", "--span", "32MiB"];
          let got = await measure(directory, ...asked);
          if (got.status !== 0) {
            expect(got.stderr).toMatch(/does not offer direct I\/O/);
            got = await measure(directory, ...asked, "--buffered");
          }
          expect(got.stderr).toBe("");
          expect(got.document.meanMBps).toBeGreaterThan(0);
          expect(got.document.conditions.fileSystem).toBeTruthy();
          expect(fs.readdirSync(directory).sort()).toEqual(before);
        }
        expect(fs.readFileSync(mine, "utf8")).toBe("mine");
      }));

    it("fills, proves, copies and steps down a ladder, and leaves nothing", LONG, () =>
      on(async (directory) => {
        const before = fs.readdirSync(directory).sort();
        const fill = await measure(directory, "--drill", "long-fill", "--size", "48MiB");
        expect(fill.stderr).toBe("");
        expect(fill.document.bytes).toBe(48 * 2 ** 20);
        const proof = await measure(directory, "--drill", "proof", "--span", "16MiB");
        expect(proof.document.faults).toEqual([]);
        const copy = await measure(
          directory,
          "--drill",
          "ferry",
          "--mix",
          "20 x 4KiB, 4 x 1000000",
        );
        expect(copy.document.files).toBe(24);
        expect(copy.document.bytes).toBe(20 * 4096 + 4_000_000);
        const ladder = await measure(
          directory,
          "--drill",
          "stride-ladder",
          "--direction",
          "read",
          "--blocks",
          "4KiB 64KiB",
          "--seconds",
          "0.5",
          "--span",
          "16MiB",
        );
        expect(ladder.document.steps).toHaveLength(2);
        expect(fs.readdirSync(directory).sort()).toEqual(before);
      }),
    );
  });
}
