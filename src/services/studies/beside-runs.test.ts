import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { MachineCheck } from "@/core/machine/check";
import type { NetworkFigures } from "@/core/network/figures";
import { openStore, type Store } from "@/store/database";
import { listMachineChecks, putMachineCheck } from "@/store/machine-checks";
import { listNetworks, putNetwork } from "@/store/networks";
import { addPart } from "../shelf/shelf";
import { saveStudy } from "./save-study";
import { addRig, createStudy } from "./studies";
import { takeInStudy } from "./study-file";

const network = (to: string, at: string): NetworkFigures => ({
  from: "desk",
  to,
  at,
  ends: { from: null, to: { interface: "eth0", megabits: 1000, mtu: 1500 } },
  passages: [
    {
      direction: "read",
      connections: 4,
      block: 524_288,
      seconds: 3,
      leadIn: 1,
      carried: { bytes: 3.5e8, ms: 3000, process: 0.2, busiestCore: null },
    },
  ],
});
const check = (machine: string, at: string): MachineCheck => ({
  machine,
  at,
  kernel: "6.18",
  steps: [{ direction: "read", block: 4096, depth: 1, mbps: [900], iops: [2e5] }],
});

describe("what was measured beside the runs of a study", () => {
  let folder: string;
  const stores: Store[] = [];
  const open = (name: string) => {
    stores.push(openStore(path.join(folder, name)));
    return stores.at(-1)!;
  };
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-beside-"));
  });
  afterEach(() => {
    for (const store of stores.splice(0)) store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });

  /** A study with a rig on the desk, whose share the router serves. */
  function studyIn(store: Store): string {
    const id = createStudy(store, { title: "Share" });
    const modes = ["ethernet-1g"];
    const partIds = [
      addPart(store, { kind: "host-port", name: "LAN", connectors: [{ side: "down", modes }] }),
      addPart(store, { kind: "drive", name: "Share", connectors: [{ side: "up", modes }] }),
    ];
    addRig(store, id, { name: "Rig", partIds, host: "desk", farHost: "router" });
    return id;
  }

  it("is known by the latest of each pair and of each machine", () => {
    const store = open("one");
    const [early, late] = ["2026-11-01T10:00:00.000Z", "2026-12-01T10:00:00.000Z"];
    for (const at of [late, early]) {
      putNetwork(store, network("router", at));
      putMachineCheck(store, check("desk", at));
    }
    // The same again, as when a study is taken in twice.
    putNetwork(store, network("router", late));
    putMachineCheck(store, check("desk", late));
    putNetwork(store, network("lab2", early));
    expect(listNetworks(store).map(({ to, at }) => [to, at])).toEqual([
      ["router", late],
      ["lab2", early],
    ]);
    expect(listMachineChecks(store).map(({ machine, at }) => [machine, at])).toEqual([
      ["desk", late],
    ]);
  });

  it("goes along with the study as far as its rigs go over it, and comes in again", () => {
    const store = open("one");
    const id = studyIn(store);
    const at = "2026-12-01T10:00:00.000Z";
    for (const to of ["router", "lab2"]) putNetwork(store, network(to, at));
    for (const machine of ["desk", "laptop"]) putMachineCheck(store, check(machine, at));
    const other = open("two");
    takeInStudy(other, saveStudy(store, id).bytes);
    expect(listNetworks(other)).toEqual([network("router", at)]);
    expect(listMachineChecks(other)).toEqual([check("desk", at)]);
  });
});
