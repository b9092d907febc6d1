import { spawn } from "node:child_process";
import { once } from "node:events";
import net from "node:net";
import path from "node:path";
import { createInterface } from "node:readline";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { account } from "@/core/ledger/account";
import { modeOf } from "@/core/ledger/catalogue";
import { NetworkFigures, rowsOf } from "@/core/network/figures";
import { nerrit, ROOT } from "../support/command";
import { LONG } from "../support/long";
import { makeHosts, whyNoHosts, type SshHost, type SshHosts } from "../support/ssh-hosts";

const why = await whyNoHosts();
if (why) console.warn(`skipped: a network by itself (${why})`);

describe.skipIf(why)("the network to a host by itself", () => {
  let made: SshHosts;
  let lab: SshHost;
  beforeAll(async () => {
    made = await makeHosts([{ name: "lab2" }, { name: "router", server: "dropbear" }]);
    [lab] = made.hosts as [SshHost];
    for (const host of made.hosts) host.shape(100);
  });
  afterAll(() => made.remove());
  const network = (...args: string[]) =>
    nerrit(["network", ...args], undefined, { NERRIT_SSH_CONFIG: made.config });
  const SHORT = ["--repeats", "1", "--seconds", "1"];

  it("is measured both ways, over one connection and over several", () => isMeasured("lab2"));
  it("is measured to a small SSH server, too", LONG, () => isMeasured("router"));

  async function isMeasured(name: string) {
    const { hardCeiling } = account(modeOf("ethernet-100m"), "read");
    const { stdout, stderr, status } = await network(name, ...SHORT, "--json");
    expect({ stderr, status }).toEqual({ stderr: "", status: 0 });
    const figures = NetworkFigures.parse(JSON.parse(stdout));
    expect(figures.to).toBe(name);
    expect(figures.ends.to!.interface).toBe("eth0");
    expect(figures.ends.from!.mtu).toBe(1500);
    const rows = rowsOf(figures);
    expect(rows.map(({ connections }) => connections)).toEqual([1, 4]);
    for (const { rates } of rows)
      for (const rate of [rates.read!.median, rates.write!.median]) {
        expect(rate).toBeGreaterThan(0);
        // After the machine stood still what was on its way is taken in at once; to 1 %: tests/rates.
        expect(rate).toBeLessThan(hardCeiling * 2);
      }
  }

  it.each<[string, (pid: number) => void]>([
    ["it is stopped", (pid) => process.kill(pid, "SIGINT")],
    ["the line there breaks", () => lab.hangUp()],
  ])("leaves nothing running there where %s", async (_, act) => {
    let pid = 0;
    const args = ["network", "lab2", "--seconds", "60", "--progress"];
    const { status, stderr } = await nerrit(
      args,
      (its) => (pid = its),
      { NERRIT_SSH_CONFIG: made.config },
      // It is told as the first passage begins.
      () => act(pid),
    );
    expect(status).toBe(1);
    expect(stderr).toMatch(/network was not measured/);
    await expect.poll(() => lab.programs()).not.toContain("node");
  });

  it("says which end could not be reached, and what to do", async () => {
    const { stderr, status } = await network("lab2", ...SHORT, "--from", "router");
    expect(status).toBe(1);
    expect(stderr).toMatch(/router: No connection to .*there is no way to that address/);
  });

  it.each([
    ["lab2", "--from", "lab2"],
    ["lab2", "--connections", "0"],
    ["lab2", "--connections", "1,x"],
    ["lab2", "--seconds", "0"],
    ["lab2", "--block", "1GiB"],
    ["-oProxyCommand=true"],
  ])("refuses what makes no sense: %s %s %s", async (...args) => {
    expect((await network(...args)).status).toBe(2);
  });

  it("sends nothing to whoever does not know the token", async () => {
    const engine = path.join(ROOT, "dist", "engine.mjs");
    const end = spawn(process.execPath, [engine, "network"], {
      stdio: ["pipe", "pipe", "inherit"],
    });
    const [line] = (await Promise.all([
      once(createInterface({ input: end.stdout }), "line"),
      end.stdin.write(`${JSON.stringify({ role: "answer", token: "0".repeat(32) })}\n`),
    ])) as [string[], boolean];
    const { port } = JSON.parse(line[0]!) as { port: number };
    const hello = { direction: "read", connections: 1, block: 4096, seconds: 1, leadIn: 0 };
    for (const said of [{ ...hello, passage: 0, token: "1".repeat(32) }, hello, "GET / HTTP/1.1"]) {
      const socket = net.connect(port, "127.0.0.1");
      let heard = 0;
      socket.on("data", (chunk) => (heard += chunk.length));
      socket.on("error", () => undefined);
      socket.write(`${typeof said === "string" ? said : JSON.stringify(said)}\n`);
      await once(socket, "close");
      expect(heard).toBe(0);
    }
    end.stdin.end();
    await once(end, "exit");
  });
});
