import { execFileSync, spawn, type ChildProcess } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { account } from "@/core/ledger/account";
import { modeOf } from "@/core/ledger/catalogue";
import { whyNoTracing } from "../support/tracing";
import { nerrit } from "../support/command";
import { buildShare, ended, mountShare } from "../support/network-share";

/** A share behind a link of 100 Mb/s: a namespace, a pair of interfaces, traffic held to the wire's rate. */
const SPACE = `nerrit-${process.pid}`;
const [HERE, THERE] = [`nh${process.pid}`.slice(0, 15), `nt${process.pid}`.slice(0, 15)];
const SERVER = "10.231.77.2";
const PORT = 7711;
const run = (command: string, ...args: string[]) =>
  execFileSync(command, args, { encoding: "utf8", stdio: ["ignore", "pipe", "pipe"] });
const inside = (...args: string[]) => run("ip", "netns", "exec", SPACE, ...args);

/** Lays the link out. Preamble, check and gap (24 B) are on the wire, too, and no packet is larger than the wire's. */
function layLink(): void {
  run("ip", "netns", "add", SPACE);
  run("ip", "link", "add", HERE, "type", "veth", "peer", "name", THERE, "netns", SPACE);
  run("ip", "address", "add", "10.231.77.1/30", "dev", HERE);
  run("ip", "link", "set", HERE, "gso_max_segs", "1", "up");
  inside("ip", "address", "add", `${SERVER}/30`, "dev", THERE);
  inside("ip", "link", "set", THERE, "gso_max_segs", "1", "up");
  const held = [
    "root",
    "tbf",
    "rate",
    "100mbit",
    "burst",
    "16kb",
    "latency",
    "50ms",
    "overhead",
    "24",
  ];
  run("tc", "qdisc", "add", "dev", HERE, ...held);
  inside("tc", "qdisc", "add", "dev", THERE, ...held);
}

const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-network-"));
let binary = "";

function whyNot(): string | null {
  if (process.getuid?.() !== 0) return "needs root";
  try {
    binary = buildShare(folder);
    layLink();
    return null;
  } catch (error) {
    try {
      run("ip", "netns", "delete", SPACE);
    } catch {
      // There is none.
    }
    return String(error).split("\n")[0]!;
  }
}
const why = whyNot();
if (why) console.warn(`skipped: a share over a network (${why})`);

describe.skipIf(why)("a share over a link of 100 Mb/s", () => {
  const directory = path.join(folder, "share");
  let server: ChildProcess;
  let unmount: () => Promise<void>;
  beforeAll(async () => {
    const serve = ["netns", "exec", SPACE, binary, "serve", String(PORT)];
    server = spawn("ip", serve, { stdio: "ignore" });
    unmount = await mountShare(binary, directory, SERVER, PORT);
  });
  afterAll(async () => {
    await unmount();
    await ended(server);
    run("ip", "netns", "delete", SPACE);
    fs.rmSync(folder, { recursive: true });
  });

  /** What the interface itself counted, each way. */
  const wire = (direction: "read" | "write") =>
    Number(
      fs.readFileSync(
        `/sys/class/net/${HERE}/statistics/${direction === "read" ? "rx" : "tx"}_bytes`,
        "utf8",
      ),
    );

  it.each(["read", "write"] as const)(
    "never comes above the ledger’s ceiling, and moves over the wire what it says, %s",
    async (direction) => {
      const { hardCeiling } = account(modeOf("ethernet-100m"), direction);
      const before = wire(direction);
      const { status, stdout, stderr } = await nerrit([
        "measure",
        "--target",
        directory,
        "--direction",
        direction,
        "--seconds",
        "4",
        "--span",
        "8MiB",
        "--reserve",
        "0B",
        "--json",
      ]);
      expect(stderr).toBe("");
      expect(status).toBe(0);
      const { meanMBps, bytes, deviceBytes, conditions } = JSON.parse(stdout);
      console.log(`${direction}: ${meanMBps.toFixed(2)} of ${hardCeiling.toFixed(2)} MB/s`);
      // After the machine stood still what was on its way is taken in at once; to 3 %: NERRIT_SOAK.
      const more = process.env.NERRIT_SOAK === "1" ? 1.03 : 1.5;
      expect(meanMBps).toBeLessThan(hardCeiling * more);
      // How near depends on the share and on a machine that may stand still. What was counted has
      // passed the wire; how much the lead-in moved beside it depends on that, too.
      expect(wire(direction) - before).toBeGreaterThan(bytes);
      // No block device lies below, and none is invented.
      expect(deviceBytes).toBeNull();
      expect(conditions.device).toBeNull();
      expect(fs.readdirSync(directory)).toEqual([]);
    },
  );

  it.skipIf(whyNoTracing())("has what programs read and write there recorded", async () => {
    const out = path.join(folder, "work.jsonl");
    const work = `dd if=/dev/zero of=${directory}/file bs=64k count=16; dd if=${directory}/file of=/dev/null bs=32k; rm ${directory}/file`;
    const args = ["record", directory, "--out", out, "--json", "--", "sh", "-ec", work];
    const before = wire("write");
    const { status, stdout } = await nerrit(args);
    expect(status).toBe(0);
    const { head, bytesRead, bytesWritten, programs, lost } = JSON.parse(stdout);
    expect({ bytesRead, bytesWritten, lost }).toEqual({
      bytesRead: 2 ** 20,
      bytesWritten: 2 ** 20,
      lost: 0,
    });
    expect(head.drive).toMatch(/fuse/);
    expect(programs[0].name).toBe("dd");
    // It went over the wire while it was recorded.
    expect(wire("write") - before).toBeGreaterThan(2 ** 20);
  });
});
