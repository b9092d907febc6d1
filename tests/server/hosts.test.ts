import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { tracingFolder } from "@/engine/record/trace-instance";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import type { Run } from "@/core/study/measurement";
import { LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { startServer, type Server } from "../support/server";
import { smallSystem } from "../support/small-system";
import { makeHosts, whyNoHosts, type SshHost, type SshHosts } from "../support/ssh-hosts";

const why = (await whyNoHosts()) ?? whyNoDevices();
if (why) console.warn(`skipped: hosts of a server (${why})`);

describe.skipIf(why)("hosts of a server", () => {
  let made: SshHosts;
  let disk: Disk;
  let server: Server;
  let lab: SshHost;
  let rig = "";
  let small = "";
  const surroundings = () => ({ NERRIT_SSH_CONFIG: made.config });
  const call = async (method: string, route: string, body?: unknown) => {
    const response = await fetch(`${server.url}${route}`, {
      method,
      headers: { "Content-Type": "application/json" },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    return { status: response.status, data: await response.json() };
  };
  const measure = async (more: object = {}) =>
    call("POST", `/api/rigs/${rig}/measurements`, {
      target: `lab2:${disk.directory}`,
      drill: "haul",
      direction: "read",
      span: 50 * 2 ** 20,
      seconds: 3,
      repeats: 2,
      reserve: 2 ** 20,
      ...more,
    });
  const measured = async (id: string) => (await call("GET", `/api/measurements/${id}`)).data;
  const status = (id: string) => async () => (await measured(id)).status;
  /** Waits until a run has brought something. */
  const brought = (id: string) =>
    expect.poll(async () => (await measured(id)).runs[0]?.samples.length).toBeGreaterThan(0);
  const killServer = async () => {
    const { data } = server;
    await server.end("SIGKILL");
    return data;
  };
  const left = (host = lab) => {
    const runs = path.join(host.cache, "runs");
    return fs.existsSync(runs) ? fs.readdirSync(runs) : [];
  };

  beforeAll(async () => {
    disk = makeDisk(300);
    small = smallSystem();
    made = await makeHosts([{ name: "lab2" }, { name: "board", env: { PATH: small } }]);
    [lab] = made.hosts as [SshHost];
    server = await startServer(undefined, surroundings());
    await call("POST", "/api/hosts", { name: "lab2" });
    const study = await call("POST", "/api/studies", { title: "Hosts" });
    const plugged = `/api/studies/${study.data.id}/rigs/plugged`;
    const asked = { path: `lab2:${disk.directory}`, mode: "usb-5g" };
    rig = (await call("POST", plugged, asked)).data.id;
  });
  afterEach(() => lab.mend());
  afterAll(async () => {
    await server?.end();
    await made.remove();
    disk.remove();
    fs.rmSync(small, { recursive: true });
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  it("are added where they are reached, once, and by nothing that could be an option", async () => {
    const { data } = await call("GET", "/api/hosts");
    expect(data.hosts).toMatchObject([{ name: "lab2", measuredBy: "engine", trouble: null }]);
    expect(data.offered).toEqual(["board"]);
    expect((await call("POST", "/api/hosts", { name: "lab2" })).status).toBe(409);
    for (const name of ["-oProxyCommand=touch /tmp/x", "a b", "a'b", "$(id)", "", "x".repeat(300)])
      expect(await call("POST", "/api/hosts", { name })).toMatchObject({
        status: 422,
        data: { error: { fields: [{ path: "name" }] } },
      });
    made.alias("off", lab, "Port 9");
    const off = await call("POST", "/api/hosts", { name: "off" });
    expect(off).toMatchObject({ status: 422, data: { error: { code: "not-reached" } } });
    expect((await call("POST", "/api/hosts/none")).status).toBe(404);
    expect((await call("DELETE", "/api/hosts/none")).status).toBe(404);
  });

  it("are checked for what they can drive, one at a time, and the check can be stopped", async () => {
    const { data } = await call("GET", "/api/hosts");
    for (const id of [data.hosts[0].id, "here"]) {
      const route = `/api/hosts/${id}/check`;
      const state = async () => (await call("GET", route)).data;
      expect(await state()).toMatchObject({ check: null, going: null, trouble: null });
      expect((await call("POST", route)).data.going).toMatchObject({ step: 0, of: 24 });
      expect((await call("POST", "/api/hosts/here/check")).status).toBe(409);
      const wished = { drill: "haul", direction: "read", target: disk.directory };
      const refused = await call("POST", `/api/rigs/${rig}/measurements`, wished);
      expect(refused).toMatchObject({ status: 409, data: { error: { code: "occupied" } } });
      const network = await call("POST", `/api/hosts/${data.hosts[0].id}/network`, {});
      expect(network).toMatchObject({ status: 409, data: { error: { code: "occupied" } } });
      await expect.poll(async () => (await state()).going.step).toBeGreaterThan(0);
      await call("DELETE", route);
      await expect.poll(state).toMatchObject({ check: null, going: null, trouble: null });
    }
    expect((await call("POST", "/api/hosts/none/check")).status).toBe(404);
  });

  it("carry what their memory gives, by the whole check", LONG, async () => {
    const route = "/api/hosts/here/check";
    await call("POST", route);
    const state = async () => (await call("GET", route)).data;
    await expect.poll(async () => (await state()).going).toBeNull();
    const { check, kernel } = await state();
    expect(check.kernel).toBe(kernel);
    expect(check.steps).toHaveLength(12);
    for (const { mbps, iops } of check.steps)
      for (const figure of [...mbps, ...iops]) expect(figure).toBeGreaterThan(0);
  });

  it("tell what is plugged in there, and what a run would meet", LONG, async () => {
    const { data } = await call("GET", "/api/hosts");
    const { drives } = (await call("GET", `/api/hosts/${data.hosts[0].id}/drives`)).data;
    const places = drives.flatMap((drive: { places: { point: string | null }[] }) =>
      drive.places.map(({ point }) => point),
    );
    expect(places).toContain(`lab2:${disk.directory}`);
    const target = `lab2:${disk.directory}`;
    const query = new URLSearchParams({ path: target, rig, reserve: "0" });
    expect((await call("GET", `/api/targets?${query}`)).data).toMatchObject({ kind: "directory" });
    const asked = { target, drill: "haul", direction: "write", span: 2 ** 40 };
    const { findings } = (await call("POST", `/api/rigs/${rig}/preflight`, asked)).data;
    expect(findings).toContainEqual(expect.objectContaining({ level: "stop" }));
    expect((await call("POST", "/api/system", { path: target })).data.report.path).toBe(target);
  });

  it("measure nothing where they were not added, and no copy on two machines", async () => {
    const unknown = await measure({ target: `lab3:${disk.directory}` });
    expect(unknown).toMatchObject({ status: 422, data: { error: { code: "host" } } });
    const two = await measure({
      drill: "ferry",
      other: disk.directory,
      span: undefined,
      seconds: undefined,
    });
    expect(two).toMatchObject({ status: 422, data: { error: { fields: [{ path: "other" }] } } });
    const further = await measure({ drill: "convoy", more: ["lab3:/x"] });
    expect(further).toMatchObject({ status: 422, data: { error: { code: "host" } } });
    const nowhere = await measure({ target: "lab2:/no/such/place" });
    expect(nowhere.status).toBe(422);
    expect(left()).toEqual([]);
  });

  it.skipIf(!tracingFolder())(
    "record what reaches a drive of theirs, until that is stopped",
    LONG,
    async () => {
      const name = `lab2:${path.basename(disk.device)}`;
      const kept = async () => (await call("GET", `/api/recordings?name=${name}`)).data[0];
      const other = await call("POST", "/api/recordings", { name: "nobody:sdb" });
      expect(other).toMatchObject({ status: 422, data: { error: { code: "host" } } });
      const { data } = await call("POST", "/api/recordings", { name });
      const read = ["if=" + disk.device, "of=/dev/null", "bs=4k", "count=100", "iflag=direct"];
      const readAndLook = async () => {
        execFileSync("dd", read, { stdio: "ignore" });
        return (await kept()).requests;
      };
      await expect.poll(readAndLook).toBeGreaterThan(0);
      expect(await kept()).toMatchObject({ id: data.id, name, running: true, trouble: null });
      await call("POST", `/api/recordings/${data.id}/stop`);
      await expect.poll(async () => (await kept()).running).toBe(false);
      expect(await kept()).toMatchObject({ trouble: null, bytes: expect.any(Number) });
      expect((await call("GET", `/api/recordings/${data.id}`)).data.requests).toBeGreaterThan(0);
      expect(left()).toEqual([]);
    },
  );

  it("go on with a run whose server was killed, and the next server has all of it once", async () => {
    const { data } = await measure({ repeats: 3 });
    await brought(data.id);
    expect((await call("POST", "/api/hosts/here/check")).status).toBe(409);
    // Meanwhile the host is asked nothing that would take its processor from the run.
    const beside = await measure();
    expect(beside).toMatchObject({ status: 422, data: { error: { code: "host-busy" } } });
    server = await startServer(await killServer(), surroundings());
    await expect.poll(status(data.id)).toBe("done");
    const { runs, conditions, target } = await measured(data.id);
    expect(target).toBe(`lab2:${disk.directory}`);
    expect(conditions.clock.uncertainMs).toBeGreaterThan(0);
    expect(runs).toHaveLength(3);
    for (const { samples, result } of runs as Run[]) {
      const moved = samples.reduce((sum, { bytes }) => sum + bytes, 0);
      expect(moved).toBe(result!.bytes);
      const times = samples.map(({ from }) => from);
      expect(times).toEqual([...new Set(times)].toSorted((a, b) => a - b));
    }
    await expect.poll(left).toEqual([]);
  });

  it(
    "go on with a run whose server was killed also where a shell is all that they have",
    LONG,
    async () => {
      const { id } = (await call("POST", "/api/hosts", { name: "board" })).data;
      const { data } = await measure({ target: `board:${disk.directory}`, repeats: 1 });
      await brought(data.id);
      server = await startServer(await killServer(), surroundings());
      await expect.poll(status(data.id)).toBe("done");
      const [{ samples, result }] = (await measured(data.id)).runs as [Run];
      expect(samples.reduce((sum, { bytes }) => sum + bytes, 0)).toBe(result!.bytes);
      await expect.poll(() => left(made.hosts[1])).toEqual([]);
      expect((await call("DELETE", `/api/hosts/${id}`)).status).toBe(200);
    },
  );

  it("are waited for where they are cut off as the next server begins", LONG, async () => {
    const { data } = await measure();
    await brought(data.id);
    const folder = await killServer();
    lab.cut();
    server = await startServer(folder, surroundings());
    expect(await status(data.id)()).toBe("running");
    lab.mend();
    await expect.poll(status(data.id)).toBe("done");
    expect((await measured(data.id)).runs).toHaveLength(2);
  });

  it("keep what a run brought that is not there any more", LONG, async () => {
    const { data } = await measure({ seconds: 60 });
    await brought(data.id);
    const folder = await killServer();
    lab.killAll("node");
    for (const run of left()) fs.rmSync(path.join(lab.cache, "runs", run), { recursive: true });
    server = await startServer(folder, surroundings());
    await expect.poll(status(data.id)).toBe("interrupted");
    const { runs, reason } = await measured(data.id);
    expect(runs[0].samples.length).toBeGreaterThan(0);
    expect(reason).toMatch(/lab2/);
  });

  it("stop with the server that is ended, and keep nothing of the run", LONG, async () => {
    const { data } = await measure({ seconds: 60 });
    await brought(data.id);
    const { data: folder } = server;
    await server.end();
    expect(left()).toEqual([]);
    server = await startServer(folder, surroundings());
    expect(await status(data.id)()).toBe("interrupted");
  });

  it("are said to be out of touch, and are taken off the list by their name's own row", async () => {
    const { data } = await call("GET", "/api/hosts");
    const [{ id }] = data.hosts;
    await lab.stop();
    const looked = await call("POST", `/api/hosts/${id}`);
    expect(looked.data).toMatchObject({ trouble: { code: "not-reached" } });
    // What is known of it stays.
    expect(looked.data.facts.system).toBe("Linux");
    await lab.start();
    expect((await call("POST", `/api/hosts/${id}`)).data.trouble).toBeNull();
    expect((await call("DELETE", `/api/hosts/${id}`)).status).toBe(200);
    const after = (await call("GET", "/api/hosts")).data;
    expect(after).toEqual({ hosts: [], offered: ["lab2", "board", "off"] });
    expect((await measure()).status).toBe(422);
  });
});
