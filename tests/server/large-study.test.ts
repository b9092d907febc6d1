import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { startServer, type Server } from "../support/server";

/** A study of more rigs than are taken in at a glance, on the running server. */
describe("a study of very many rigs", () => {
  const RIGS = 70;
  /** The cable that is slow, and everything that goes through it. */
  const SLOW = 66;
  let server: Server;
  let study: string;
  beforeAll(async () => {
    server = await startServer();
    study = await takeIn((i) => i === SLOW);
  });
  afterAll(async () => {
    await server.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  /** A study of cables between one port and one box. @returns its identifier */
  async function takeIn(isSlow: (cable: number) => boolean): Promise<string> {
    const modes = ["usb-5g", "usb-10g"];
    const slot = ["pcie-3.0-x2"];
    const cables = Array.from({ length: RIGS }, (_, i) => i);
    const file = {
      format: "nerrit-study",
      version: 1,
      title: "Very many",
      parts: [
        { id: "port", kind: "host-port", name: "Port", connectors: [{ side: "down", modes }] },
        {
          id: "box",
          kind: "enclosure",
          name: "Box",
          connectors: [
            { side: "up", modes },
            { side: "down", modes: slot },
          ],
        },
        { id: "disk", kind: "drive", name: "Disk", connectors: [{ side: "up", modes: slot }] },
        ...cables.map((i) => ({
          id: `k${i}`,
          kind: "cable",
          name: `K${i}`,
          connectors: [{ side: "through", modes }],
        })),
      ],
      rigs: cables.map((i) => ({
        id: `r${i}`,
        name: `Through K${i}`,
        partIds: ["port", `k${i}`, "box", "disk"],
      })),
      runs: cables.map((i) => ({
        rigId: `r${i}`,
        drill: { name: "haul", direction: "read" },
        ratesMBps: isSlow(i) ? [600, 603, 598] : [1040, 1044, 1038],
      })),
    };
    const body = JSON.stringify(file);
    const post = await fetch(`${server.url}/api/studies/file`, { method: "POST", body });
    return ((await post.json()) as { id: string }).id;
  }
  const page = async (path: string) =>
    (await (await fetch(`${server.url}/studies/${study}${path}`)).text()).replace(
      /<script[^]*?<\/script>/g,
      "",
    );
  const named = (text: string) => new Set(text.match(/Through K\d+/g));

  it("shows all as bars, and draws those first that lose most", async () => {
    const first = await page("");
    // Seventy are bars; as channels the first forty.
    expect(named(first).size).toBe(RIGS);
    expect(first).toContain("as channels");
    const drawn = await page("?rigs=all");
    expect(named(drawn).size).toBe(40);
    expect(drawn).toContain(`Through K${SLOW}`);
  });

  it("has one heading for all rigs alike", async () => {
    const text = (await page("")).replace(/<[^>]*>/g, "");
    expect(text.match(/At the limit of their links, as designed/g)).toHaveLength(1);
    expect(text).toMatch(/rig\sBO to\s600/);
  });

  it("lists those first in Locate too, the one that is looked at wherever it stands", async () => {
    const first = await page("/locate");
    expect(first).toContain(`K${SLOW}`);
    expect(named(first).size).toBe(40);
    const all = await page("/locate?rigs=all");
    expect(named(all).size).toBe(RIGS);
    // Whoever looks at all of them goes on doing so from rig to rig.
    expect(
      all.match(/href="[^"]*locate\?[^"]*rig=[^"]*"/g)!.every((one) => /rigs=all/.test(one)),
    ).toBe(true);
    const ids = [...all.matchAll(/rig=([0-9a-f-]{36})/g)].map(([, id]) => id!);
    const last = await page(`/locate?rig=${ids.at(-1)}`);
    expect(named(last).size).toBe(41);
    expect(last).toMatch(/Show the other \D*29/);
  });

  it("counts in its course every rig that is slow, looked at or not", async () => {
    const located = async (id: string) => {
      const response = await fetch(`${server.url}/api/studies/${id}/course`);
      const stages = (await response.json()) as { name: string; state: string; done: boolean }[];
      return stages.find(({ name }) => name === "Locate")!;
    };
    // Port and box are the only ones: the cable cannot be told from how it goes with them.
    expect(await located(study)).toMatchObject({
      state: expect.stringMatching(/^1 open/),
      done: false,
    });
    const slower = await takeIn((i) => i % 2 === 0);
    const { state, done } = await located(slower);
    expect(state).toMatch(/^35 open/);
    expect(done).toBe(false);
    const sound = await takeIn(() => false);
    expect(await located(sound)).toMatchObject({ state: "all as designed", done: true });
  });
});
