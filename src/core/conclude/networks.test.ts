import { describe, expect, it } from "vitest";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { showLocated } from "../locate/findings/shown";
import { usualPassages, type NetworkFigures } from "../network/figures";
import { around, measured } from "../testing/measured";
import { cable, part, port, rig } from "../testing/rigs";
import { IN_MB } from "../units/number";
import { conclude } from "./conclusions";

/** The three stages of a share: the network, the drive at its far side, and the protocol between them. */

const LAN = ["ethernet-1g"];
const SATA = ["sata-3g", "sata-6g"];
const lan = port(LAN, "LAN");
const patch = cable(LAN, "patch");
const box = part("network-box", "box", { up: LAN, down: SATA });
const disk = part("drive", "disk", { up: SATA });
const share: Rig = {
  ...rig([lan, patch, box, disk], "share"),
  host: "desk",
  farHost: "router",
  fileSystem: "ext4",
  mountedAs: "nfs4",
};
/** The same disk where it hangs itself. */
const there: Rig = {
  ...rig([part("host-port", "socket", { down: SATA }), disk], "there"),
  host: "router",
  fileSystem: "ext4",
};

const network = (mbps: number, more: Partial<NetworkFigures> = {}): NetworkFigures => ({
  from: "desk",
  to: "router",
  at: "2026-12-01T10:00:00.000Z",
  ends: { from: null, to: null },
  passages: usualPassages().map((one, i) => ({
    ...one,
    carried: { bytes: (mbps + 0.1 * (i % 3)) * 3e6, ms: 3000, process: 0.2, busiestCore: 0.3 },
  })),
  ...more,
});

/** What is concluded from the share's rate, the disk's there, and the network's. */
function concluded(rates: { share: number; there?: number }, networks: NetworkFigures[]) {
  const measurements = [
    measured(share, around(rates.share)),
    ...(rates.there === undefined ? [] : [measured(there, around(rates.there))]),
  ];
  return conclude({ rigs: [share, there], measurements, tolerance: 0.1, networks });
}
const locatedIn = (...of: Parameters<typeof concluded>) =>
  concluded(...of)
    .locatedIn("haul", "read")
    .find((one) => one.rig.id === "share")!;
const chances = (...of: Parameters<typeof concluded>) => {
  const { explanations } = locatedIn(...of);
  /** Of parts, and of how they meet. */
  const among = (parts: readonly Part[]) =>
    explanations
      .filter(({ site }) => site?.parts.length && site.parts.every((one) => parts.includes(one)))
      .reduce((sum, { probability }) => sum + probability, 0);
  return { wire: among([lan, patch]), disk: among([disk]), explanations };
};

describe("what a network carries by itself", () => {
  it("clears it where the share is slower", () => {
    const before = chances({ share: 45 }, []).wire;
    expect(before).toBeGreaterThan(0.1);
    expect(chances({ share: 45 }, [network(112)]).wire).toBeLessThan(0.02);
  });

  it("accuses it where it is as slow as the share", () => {
    const found = chances({ share: 45, there: 180 }, [network(45.2)]);
    const { wire, disk: drive, explanations } = found;
    // The computer at this end took part in it as in the share.
    const own = explanations.find(({ place }) => place.includes('"host"'))!.probability;
    expect(wire).toBeGreaterThan(0.6);
    expect(wire + own).toBeGreaterThan(0.95);
    expect(drive).toBeLessThan(0.02);
  });

  it("leaves the disk where that is as slow at the far side", () => {
    const { wire, disk: drive } = chances({ share: 45, there: 45.3 }, [network(112)]);
    expect(drive).toBeGreaterThan(0.8);
    expect(wire).toBeLessThan(0.02);
  });

  it("leaves the box and its protocol where both the network and the disk are faster", () => {
    const { wire, disk: drive, explanations } = chances({ share: 45, there: 180 }, [network(112)]);
    expect(wire + drive).toBeLessThan(0.05);
    expect(JSON.stringify(explanations[0]!.at)).toMatch(/box|fileSystem/);
  });

  it("is named as what cleared a part", () => {
    const located = locatedIn({ share: 45 }, [network(112)]);
    const { reaches } = showLocated(located, IN_MB, () => null);
    expect(reaches.find(({ name }) => name === "LAN")!.words).toBe(
      "cleared by Network to router alone",
    );
  });

  it.each<[string, Partial<NetworkFigures>]>([
    ["from another machine", { from: "laptop" }],
    ["to another one", { to: "nas" }],
  ])("says nothing of a rig that goes over another network: %s", (_, other) => {
    const alone = chances({ share: 45 }, []).wire;
    expect(chances({ share: 45 }, [network(112, other)]).wire).toBe(alone);
  });

  it("is known whatever letters the rig writes a machine’s name in", () => {
    const { wire } = chances({ share: 45 }, [network(112, { from: "Desk", to: "Router" })]);
    expect(wire).toBeLessThan(0.02);
  });

  it("says nothing where a processor had no time left", () => {
    const full = network(45.2);
    for (const { carried } of full.passages) carried.process = 1;
    expect(chances({ share: 45 }, [full]).wire).toBe(chances({ share: 45 }, []).wire);
  });
});
