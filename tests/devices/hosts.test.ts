import { execFileSync, spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { nerrit } from "../support/command";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { makeHosts, whyNoHosts, type SshHost, type SshHosts } from "../support/ssh-hosts";
import { LONG } from "../support/long";

const why = (await whyNoHosts()) ?? whyNoDevices();
if (why) console.warn(`skipped: hosts that are logged into (${why})`);

describe.skipIf(why)("hosts that are logged into", () => {
  let made: SshHosts;
  let disk: Disk;
  const folders: string[] = [];
  let [lab, router]: SshHost[] = [];
  beforeAll(async () => {
    disk = makeDisk(300);
    made = await makeHosts([
      {
        name: "lab2",
        banner: "WELCOME\nnerrit-facts is not said here\n",
        env: { BASH_ENV: noise() },
      },
      { name: "router", server: "dropbear" },
      { name: "bare", env: { PATH: withoutNode() } },
      { name: "locked", env: { XDG_CACHE_HOME: "/proc/nowhere" } },
      { name: "old", env: { PATH: withOldNode() } },
    ]);
    [lab, router] = made.hosts;
    const other = path.join(made.folder, "other");
    execFileSync("ssh-keygen", ["-q", "-t", "ed25519", "-N", "", "-f", other]);
    made.alias("stranger", lab!, `IdentityFile ${other}`);
    made.alias("unknown", lab!, "UserKnownHostsFile none");
  });
  afterAll(async () => {
    await made.remove();
    disk.remove();
    for (const folder of folders) fs.rmSync(folder, { recursive: true });
  });

  /** A folder with the programs of a small system, and no runtime among them. */
  const withoutNode = () => {
    const bin = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-bin-"));
    folders.push(bin);
    for (const name of ["sh", "uname", "sed", "head", "grep", "date", "df", "mkdir", "rm", "ls"])
      fs.symlinkSync(`/bin/${name}`, path.join(bin, name));
    return bin;
  };
  /** The same, with a runtime of years ago. */
  const withOldNode = () => {
    const bin = withoutNode();
    fs.writeFileSync(path.join(bin, "node"), "#!/bin/sh\necho v16.20.2\n", { mode: 0o755 });
    return bin;
  };
  /** What a shell does whenever it begins: it greets, on the line of what is asked of it. */
  const noise = () => {
    const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-noise-")), "greets");
    folders.push(path.dirname(file));
    fs.writeFileSync(file, 'echo "Last login: today"; echo "3 {unread} messages"; echo oops >&2\n');
    return file;
  };
  const asked = (args: string[]) => nerrit(args, undefined, { NERRIT_SSH_CONFIG: made.config });
  const haul =
    (...more: string[]) =>
    (heard?: (said: string, pid: number) => void) => {
      const base = ["measure", "--on", "lab2", "--target", disk.directory, "--direction", "read"];
      base.push("--span", "50MiB", "--reserve", "1MiB", "--json");
      let pid = 0;
      return nerrit(
        [...base, ...more],
        (its) => (pid = its),
        { NERRIT_SSH_CONFIG: made.config },
        (said) => heard?.(said, pid),
      );
    };
  let watching = 0;
  /** Sends so many bytes to the router, over its link. */
  const send = async (bytes: number) => {
    const ssh = spawn("ssh", ["-F", made.config, "router", "cat >/dev/null"], {
      stdio: ["pipe", "ignore", "inherit"],
    });
    ssh.stdin.end(Buffer.alloc(bytes));
    await once(ssh, "exit");
  };
  /** Leaves not a byte free. */
  const fillUp = (folder: string) => {
    const file = fs.openSync(path.join(folder, "fill"), "w");
    try {
      for (;;) fs.writeSync(file, Buffer.alloc(1 << 16));
    } catch (error) {
      expect((error as NodeJS.ErrnoException).code).toBe("ENOSPC");
    }
    fs.closeSync(file);
  };
  /** What runs have left in the host's cache folder, and on the drive. */
  const leftovers = () => [
    ...(fs.existsSync(`${lab!.cache}/runs`) ? fs.readdirSync(`${lab!.cache}/runs`) : []),
    ...fs.readdirSync(disk.directory).filter((name) => name.includes("nerrit")),
  ];

  /** A run of which every sample is there, once and in order. */
  const isWhole = (stdout: string) => {
    const { bytes, samples } = JSON.parse(stdout);
    const sum = samples.reduce((all: number, one: { bytes: number }) => all + one.bytes, 0);
    expect(sum).toBe(bytes);
    for (const [i, one] of samples.entries())
      if (i > 0) expect(one.from).toBeCloseTo(samples[i - 1].ms, 3);
    expect(leftovers()).toEqual([]);
  };

  it("say what they have, whatever server they run and however they greet", async () => {
    const { stdout, status } = await asked(["hosts", "--json"]);
    const { hosts } = JSON.parse(stdout);
    expect(status).toBe(0);
    expect(hosts.map(({ host }: { host: string }) => host)).toEqual([
      "lab2",
      "router",
      "bare",
      "locked",
      "old",
      "stranger",
      "unknown",
    ]);
    for (const { facts } of hosts.slice(0, 2)) {
      expect(facts).toMatchObject({ system: "Linux", node: { version: process.version } });
      expect(facts.cores).toBe(
        fs.readFileSync("/proc/cpuinfo", "utf8").match(/^processor/gm)!.length,
      );
      expect(Math.abs(facts.clock.aheadMs)).toBeLessThanOrEqual(facts.clock.uncertainMs + 1);
    }
  });

  it("are refused by name where one could be an option or a shell’s text", async () => {
    const touched = path.join(made.folder, "touched");
    for (const name of [`-oProxyCommand=touch ${touched}`, "a b;$(x)"]) {
      const { status } = await asked(["measure", `--on=${name}`, "--target", "/tmp"]);
      expect(status).toBe(2);
      expect((await asked(["hosts", "--", name])).status).toBe(2);
    }
    expect(fs.existsSync(touched)).toBe(false);
  });

  it("list their drives as they do themselves", async () => {
    // Drives of other tests come and go meanwhile.
    const own = (stdout: string) =>
      JSON.parse(stdout).drives.find(({ id }: { id: string }) => disk.device.endsWith(`/${id}`));
    const here = own((await asked(["drives", "--json"])).stdout);
    expect(here).toBeDefined();
    expect(own((await asked(["drives", "--on", "lab2", "--json"])).stdout)).toEqual(here);
  });

  it("are measured on, with every sample, and nothing is left of the run", async () => {
    // Another version of Nerrit was there before, and is left alone.
    const other = path.join(lab!.cache, "engine-0123456789abcdef");
    fs.mkdirSync(other, { recursive: true });
    fs.writeFileSync(path.join(other, "engine.mjs"), "process.exit(9)");
    const { stdout, stderr, status } = await haul("--seconds", "2")();
    expect(fs.readdirSync(other)).toEqual(["engine.mjs"]);
    expect([status, stderr]).toEqual([0, ""]);
    expect(JSON.parse(stdout).conditions.target).toBe(disk.directory);
    isWhole(stdout);
  });

  it(
    "are watched with a shell alone: what moves over their interface, and how busy a core is",
    LONG,
    async () => {
      const hog = spawn("taskset", ["-c", "0", "sh", "-c", "while :; do :; done"], {
        stdio: "ignore",
      });
      let sending: Promise<unknown> | null = null;
      let isSent = false;
      let after = 0;
      const before = router!.traffic();
      const { stdout, stderr, status } = await nerrit(
        ["watch", "router:eth0", "--progress", "--json"],
        (pid) => (watching = pid),
        { NERRIT_SSH_CONFIG: made.config },
        (said) => {
          if (!sending && said.includes("router:eth0")) {
            sending = send(20e6).then(() => void (isSent = true));
          } else if (isSent && (after += 1) === 6) process.kill(watching, "SIGINT");
        },
      );
      hog.kill("SIGKILL");
      expect(status, stderr).toBe(0);
      const { watched, hosts } = JSON.parse(stdout);
      expect(watched[0]).toMatchObject({ name: "router:eth0", kind: "interface" });
      expect(watched[0].readBytes).toBeGreaterThan(20e6);
      expect(watched[0].readBytes).toBeLessThanOrEqual(router!.traffic() - before);
      expect(hosts[0].core.mean).toBeGreaterThan(0.5);
      const { stderr: missing } = await asked(["watch", "router:sdzz", "--seconds", "1"]);
      expect(missing).toMatch(/router counts nothing for sdzz/);
      // The other host's counters are followed no longer, or this would never end.
      const { stderr: none } = await asked(["watch", "router:eth0", "nobody.invalid:eth0"]);
      expect(none).toMatch(/no host nobody.invalid/);
    },
  );

  it("are told what a place is by the command for one’s own machine", LONG, async () => {
    const { status, stderr } = await asked([
      "measure",
      "--target",
      "lab2:/no/such",
      "--direction",
      "read",
    ]);
    expect(status).toBe(1);
    expect(stderr).toContain("/no/such");
    expect((await asked(["measure", "--on", "lab2", "--target", "media"])).status).toBe(2);
  });

  it("go on with a run while the line is cut, and lose no sample of it", async () => {
    let [isCut, isMended] = [false, false];
    const run = haul("--seconds", "8", "--progress");
    const { stdout, stderr, status } = await run((said) => {
      if (!isCut && said.includes("MB/s")) [isCut] = [true, lab!.cut()];
      if (!isMended && said.includes("Out of touch")) [isMended] = [true, lab!.mend()];
    });
    expect(status, stderr).toBe(0);
    expect([isCut, isMended]).toEqual([true, true]);
    expect(stderr).toContain("In touch with lab2 again");
    isWhole(stdout);
  });

  it("go on with a run however often its connection breaks off", LONG, async () => {
    let breaks = 0;
    const run = haul("--seconds", "6", "--progress");
    const { stdout, stderr, status } = await run((said) => {
      if (said.split("MB/s").length <= breaks + 1) return;
      breaks += 1;
      lab!.hangUp();
    });
    expect(status, stderr).toBe(0);
    expect(breaks).toBeGreaterThan(0);
    isWhole(stdout);
  });

  it("end a run that is stopped, and whose server there is killed", LONG, async () => {
    let isStopped = false;
    const stopped = await haul(
      "--seconds",
      "60",
      "--progress",
    )((said, pid) => {
      if (!isStopped && said.includes("MB/s")) isStopped = process.kill(pid, "SIGINT");
    });
    expect(stopped.status).toBe(1);
    expect(stopped.stderr).toMatch(/nothing is left behind/);
    expect(leftovers()).toEqual([]);
    let isKilled = false;
    const killed = await haul(
      "--seconds",
      "60",
      "--progress",
    )((said) => {
      if (!isKilled && said.includes("MB/s")) [isKilled] = [true, lab!.killAll("node")];
    });
    expect(killed.status).toBe(1);
    expect(killed.stderr).toMatch(/ended before the run was over/);
    expect(JSON.parse(killed.stdout).samples.length).toBeGreaterThan(0);
    expect(leftovers()).toEqual([]);
  });

  it("keep what a run told where their cache folder’s disk is full", LONG, async () => {
    let isFull = false;
    const { stdout, stderr, status } = await haul(
      "--seconds",
      "3",
      "--progress",
    )((said) => {
      if (isFull || !said.includes("MB/s")) return;
      isFull = true;
      fillUp(lab!.home);
      lab!.hangUp();
    });
    fs.rmSync(path.join(lab!.home, "fill"));
    expect(status, stderr).toBe(0);
    expect(isFull).toBe(true);
    isWhole(stdout);
  });

  it("say that they were started anew, and what had come until then is kept", LONG, async () => {
    let restarted: Promise<void> | null = null;
    const { stdout, stderr, status } = await haul(
      "--seconds",
      "60",
      "--progress",
    )((said) => {
      if (!restarted && said.includes("MB/s")) restarted = lab!.stop().then(() => lab!.start());
    });
    await restarted;
    expect(status).toBe(1);
    expect(stderr).toMatch(/ended before the run was over/);
    expect(JSON.parse(stdout).samples.length).toBeGreaterThan(0);
  });

  it("say in words why they cannot be used", LONG, async () => {
    const on = async (host: string) =>
      (await asked(["measure", "--on", host, "--target", "/tmp", "--direction", "read"])).stderr;
    // Not even what takes in the small program is there.
    expect(await on("bare")).toMatch(/could not be put/);
    const { stdout } = await asked(["hosts", "bare", "old"]);
    expect(stdout).toMatch(/no Node[^]*v16[.]20[.]2 is too old/);
    expect(await on("locked")).toMatch(/cache folder/);
    expect(await on("stranger")).toMatch(/none of your keys/);
    expect(await on("unknown")).toMatch(/not known yet/);
    expect(await on("nobody.invalid")).toMatch(/no host nobody.invalid/);
    await router!.stop();
    expect(await on("router")).toMatch(/does not answer/);
    await router!.start();
    router!.changeKey();
    expect(await on("router")).toMatch(/another host key/);
  });
});
