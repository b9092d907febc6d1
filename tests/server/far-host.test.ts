import type { ChildProcess } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import type { Run } from "@/core/study/measurement";
import { nerrit } from "../support/command";
import { buildShare, ended, mountShare } from "../support/network-share";
import { startServer, type Server } from "../support/server";
import { makeHosts, whyNoHosts, type SshHost, type SshHosts } from "../support/ssh-hosts";
import { LONG } from "../support/long";

const why = await whyNoHosts();
if (why) console.warn(`skipped: the far host of a share (${why})`);
const PORT = 7712;

describe.skipIf(why)("a share that a small host without a runtime serves", () => {
  let made: SshHosts;
  let router: SshHost;
  let server: Server;
  let directory: string;
  let unmount: () => Promise<void>;
  let studyId: string;
  let rigId: string;
  const busy: ChildProcess[] = [];
  const post = async (route: string, body: unknown) => {
    const response = await fetch(`${server.url}${route}`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify(body),
    });
    return response.json();
  };
  const measured = async (id: string) =>
    (await fetch(`${server.url}/api/measurements/${id}`)).json();
  /** Begins a run, and waits for its end. */
  const measure = async (): Promise<{ runs: Run[]; status: string }> => {
    const asked = { target: directory, drill: "haul", direction: "read", span: 2 ** 23 };
    const more = { seconds: 4, repeats: 1, reserve: 0 };
    const { id } = await post(`/api/rigs/${rigId}/measurements`, { ...asked, ...more });
    await expect.poll(async () => (await measured(id)).status).toBe("done");
    return measured(id);
  };
  /** Measures until something was seen of the far host: on a busy machine it is reached late. */
  const measureSeen = async (): Promise<Run> => {
    for (;;) {
      const [run] = (await measure()).runs;
      if (run!.result!.farHost) return run!;
    }
  };
  const page = async (route: string) => (await fetch(server.url + route)).text();

  beforeAll(async () => {
    made = await makeHosts([{ name: "router", server: "dropbear" }]);
    [router] = made.hosts as [SshHost];
    directory = path.join(made.folder, "share");
    const binary = buildShare(made.folder);
    router.begin(binary, "serve", String(PORT));
    unmount = await mountShare(binary, directory, router.address, PORT);
    server = await startServer(undefined, { NERRIT_SSH_CONFIG: made.config });
    await post("/api/hosts", { name: "router" });
    studyId = (await post("/api/studies", { title: "Far" })).id;
    // A wire that could carry far more than this share gives.
    const modes = ["ethernet-40g"];
    const up = [{ side: "up", modes }];
    const port = { kind: "host-port", name: "LAN", connectors: [{ side: "down", modes }] };
    const partIds = [
      (await post("/api/parts", port)).id,
      (await post("/api/parts", { kind: "drive", name: "Share", connectors: up })).id,
    ];
    const rig = { name: "Share of the router", partIds, farHost: "router" };
    rigId = (await post(`/api/studies/${studyId}/rigs`, rig)).id;
  });
  afterEach(async () => {
    router.mend();
    for (const child of busy.splice(0)) await ended(child);
  });
  afterAll(async () => {
    await unmount();
    await server.end();
    await made.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  it("has the host's counters kept with the run: what it sent is what was read here", async () => {
    const { result, readings } = await measureSeen();
    expect(readings.filter(({ far }) => far).length).toBeGreaterThan(1);
    const { core, moved, memory } = result!.farHost!;
    expect(core!.mean).toBeGreaterThan(0);
    expect(memory).toBeGreaterThan(0);
    // Headers come on top; a machine that stands still shifts the second by a part of it.
    expect(moved.eth0!.written).toBeGreaterThan(result!.meanMBps / 2);
    expect(moved.eth0!.written).toBeLessThan(result!.meanMBps * 2);
  });

  it("is found to be held back by that host where a core of it has no time left", async () => {
    busy.push(router.begin("taskset", "-c", "0", process.execPath, "-e", "for (;;);"));
    const { result } = await measureSeen();
    expect(result!.farHost!.core!.mean).toBeGreaterThan(0.97);
    const locate = await page(`/studies/${studyId}/locate?rig=${rigId}&drill=haul&direction=read`);
    expect(locate).toContain("the processor of router, the far host");
  });

  it("is measured on where the host cannot be looked at, and the run says so", LONG, async () => {
    router.killAll("dropbear");
    try {
      const { runs, status } = await measure();
      expect(status).toBe("done");
      expect(runs[0]!.result!.farHost).toBeUndefined();
      expect(runs[0]!.events.map(({ text }) => text).join()).toContain("router");
    } finally {
      await router.start();
    }
  });

  it("has its network measured by itself, once at a time, which is counted for its rig", async () => {
    router.shape(100);
    const { hosts } = await (await fetch(`${server.url}/api/hosts`)).json();
    const route = `/api/hosts/${hosts[0].id}/network`;
    const state = async () => (await fetch(server.url + route)).json();
    const short = { repeats: 1, seconds: 1, connections: [1] };
    expect(await post(route, { ...short, from: "router" })).toHaveProperty("error");
    expect(await post(route, { ...short, from: "nowhere" })).toHaveProperty("error");
    expect(await post(route, { ...short, seconds: 1e9 })).toHaveProperty("error");
    expect(await post(route, { ...short, seconds: 60 })).toMatchObject({ going: { to: "router" } });
    expect(await post(route, short)).toHaveProperty("error");
    await fetch(server.url + route, { method: "DELETE" });
    await expect.poll(state).toEqual({ figures: [], going: null, trouble: null });
    await post(route, short);
    await expect.poll(state).toMatchObject({ figures: [{ to: "router" }], going: null });
    const locate = await page(`/studies/${studyId}/locate?rig=${rigId}&drill=haul&direction=read`);
    const [stages] = /data-share-stages.*?<\/section>/s.exec(locate)!;
    expect(stages).toMatch(/Network to router alone<\/th><td[^>]*>\d/);
    const saved = await (await fetch(`${server.url}/api/studies/${studyId}/file`)).json();
    expect(saved.networks).toMatchObject([{ to: "router" }]);
  });

  it("tells the same on the command line", LONG, async () => {
    const args = ["measure", "--target", directory, "--direction", "read", "--span", "8MiB"];
    const more = ["--seconds", "4", "--reserve", "0B", "--far-host", "router", "--json"];
    const env = { NERRIT_SSH_CONFIG: made.config };
    const told = async () => {
      const { stdout, status } = await nerrit([...args, ...more], undefined, env);
      expect(status).toBe(0);
      return JSON.parse(stdout).farHost;
    };
    await expect
      .poll(told)
      .toMatchObject({ host: "router", moved: { eth0: { kind: "interface" } } });
    const refused = await nerrit([...args, "--far-host", "-oProxyCommand=true"], undefined, env);
    expect(refused.status).toBe(2);
  });
});
