import { execFileSync, spawn, type ChildProcess } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import path from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import net from "node:net";

const run = (command: string, ...args: string[]) =>
  execFileSync(command, args, { encoding: "utf8", stdio: ["ignore", "pipe", "pipe"] });

/** Which links of this test process are taken. */
let taken = 0;

/** A machine that can be logged into: a network namespace with an SSH server, on the same kernel and disks. */
export interface SshHost {
  name: string;
  address: string;
  /** A small disk of its own, with its keys. */
  home: string;
  /** What Nerrit keeps there. */
  cache: string;
  /** Starts a program there; it ends with the host. */
  begin(command: string, ...args: string[]): ChildProcess;
  /** Takes the line away, and lets it come back. */
  cut(): void;
  mend(): void;
  /** Holds its link to so many megabits a second, both ways, as a wire does. */
  shape(megabits: number): void;
  /** Bytes over its link so far, both ways. */
  traffic(): number;
  /** Breaks off every connection that there is. */
  hangUp(): void;
  /** The programs that run there, by name. */
  programs(): string[];
  /** Kills every process there that runs a program. */
  killAll(program: string): void;
  /** Answers with another host key from now on. */
  changeKey(): void;
  /** Ends every process of the server, as when the machine is switched off. */
  stop(): Promise<void>;
  start(): Promise<void>;
}

export interface SshHosts {
  /** For NERRIT_SSH_CONFIG. */
  config: string;
  folder: string;
  hosts: SshHost[];
  /** Adds a name for a host by which one setting is another. */
  alias(name: string, host: SshHost, setting: string): void;
  remove(): Promise<void>;
}

/** What a host of a test is like. */
export interface HostWish {
  name: string;
  server?: "openssh" | "dropbear";
  /** The login shell's whole surroundings, name by name; PATH without a runtime, for one. */
  env?: Record<string, string>;
  /** Is printed at every login. */
  banner?: string;
}

/** Programs that a host and whoever logs into it need. */
const PROGRAMS = ["/usr/sbin/sshd", "/usr/sbin/dropbear", "/usr/bin/ssh-keygen", "/usr/bin/ssh"];

/** Why no host can be made here, or none be logged into; null where that works. It is tried. */
export async function whyNoHosts(): Promise<string | null> {
  if (process.getuid?.() !== 0) return "needs root";
  const missing = PROGRAMS.find((program) => !fs.existsSync(program));
  if (missing) return `there is no ${missing}`;
  let made: SshHosts | null = null;
  try {
    made = await makeHosts([{ name: "first" }, { name: "second", server: "dropbear" }]);
    for (const { name } of made.hosts) run("ssh", "-F", made.config, "-n", name, "true");
    return null;
  } catch (error) {
    return String(error).split("\n").slice(0, 2).join(" ");
  } finally {
    await made?.remove();
  }
}

/** Makes hosts, each behind a link of its own, with keys and a configuration that only this test knows. */
export async function makeHosts(wishes: readonly HostWish[]): Promise<SshHosts> {
  const folder = fs.mkdtempSync("/dev/shm/nerrit-hosts-");
  const config = path.join(folder, "ssh_config");
  run("ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", path.join(folder, "key"));
  const known = path.join(folder, "known_hosts");
  const made = wishes.map((wish) => new MadeHost(wish, folder, known));
  fs.writeFileSync(config, made.map((host) => host.configured()).join("\n"));
  for (const host of made) await host.start();
  return {
    config,
    folder,
    hosts: made,
    alias(name, host, setting) {
      const own = made.find((one) => one === host)!.configured();
      const [key] = setting.split(" ");
      const others = own.split("\n").filter((line, i) => i > 0 && !line.includes(`  ${key} `));
      const lines = [`Host ${name}`, `  ${setting}`, ...others];
      fs.appendFileSync(config, `\n${lines.join("\n")}`);
    },
    async remove() {
      for (const host of made) await host.remove();
      fs.rmSync(folder, { recursive: true, force: true });
    },
  };
}

class MadeHost implements SshHost {
  readonly name: string;
  readonly address: string;
  readonly cache: string;
  private readonly space: string;
  private readonly link: string;
  readonly home: string;
  private server: ChildProcess | null = null;

  constructor(
    private readonly wish: HostWish,
    private readonly folder: string,
    private readonly known: string,
  ) {
    const number = taken++;
    this.name = wish.name;
    this.space = `nerrit-${process.pid}-${number}`;
    this.link = `ns${process.pid}x${number}`.slice(0, 13);
    // A net of its own for every host of every test process.
    const net = `10.${100 + (process.pid % 100)}.${(process.pid >> 7) % 250}`;
    this.address = `${net}.${number * 4 + 2}`;
    this.home = path.join(folder, wish.name);
    this.cache = path.join(this.home, "nerrit");
    fs.mkdirSync(this.home);
    run("mount", "-t", "tmpfs", "-o", "size=16m", "tmpfs", this.home);
    run("ip", "netns", "add", this.space);
    run(
      "ip",
      "link",
      "add",
      this.link,
      "type",
      "veth",
      "peer",
      "name",
      "eth0",
      "netns",
      this.space,
    );
    run("ip", "address", "add", `${net}.${number * 4 + 1}/30`, "dev", this.link);
    run("ip", "link", "set", this.link, "up");
    run("ip", "-n", this.space, "address", "add", `${this.address}/30`, "dev", "eth0");
    run("ip", "-n", this.space, "link", "set", "eth0", "up");
    run("ip", "-n", this.space, "link", "set", "lo", "up");
    const key = path.join(this.home, "host_key");
    if (wish.server === "dropbear") {
      run("dropbearkey", "-t", "ed25519", "-f", key);
      const line = run("dropbearkey", "-y", "-f", key).match(/^ssh-ed25519 \S+/m)![0];
      fs.appendFileSync(known, `${this.address} ${line}\n`);
    } else {
      run("ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", key);
      const line = fs.readFileSync(`${key}.pub`, "utf8");
      fs.appendFileSync(known, `${this.address} ${line}`);
    }
    fs.copyFileSync(path.join(folder, "key.pub"), path.join(this.home, "authorized_keys"));
  }

  configured(): string {
    return [
      `Host ${this.name}`,
      `  HostName ${this.address}`,
      "  User root",
      `  IdentityFile ${path.join(this.folder, "key")}`,
      "  IdentitiesOnly yes",
      `  UserKnownHostsFile ${this.known}`,
      "  GlobalKnownHostsFile none",
      "  StrictHostKeyChecking yes",
      "",
    ].join("\n");
  }

  begin(command: string, ...args: string[]): ChildProcess {
    return spawn("ip", ["netns", "exec", this.space, command, ...args], {
      stdio: ["ignore", "ignore", "inherit"],
      env: { ...process.env, HOME: this.home, XDG_CACHE_HOME: this.home },
    });
  }

  async start(): Promise<void> {
    if (this.wish.server === "dropbear") {
      // Its users' keys lie where the system says that their home is: a home of this host's own.
      const own = path.join(this.home, "root");
      fs.mkdirSync(path.join(own, ".ssh"), { recursive: true, mode: 0o700 });
      fs.copyFileSync(
        path.join(this.home, "authorized_keys"),
        path.join(own, ".ssh/authorized_keys"),
      );
      const script = `mount --bind ${own} /root && exec dropbear -F -s -r ${this.home}/host_key -p ${this.address}:22`;
      this.server = this.begin("unshare", "--mount", "sh", "-c", script);
    } else {
      fs.mkdirSync("/run/sshd", { recursive: true });
      const file = path.join(this.home, "sshd_config");
      // A home of its own: what a login does is not what this machine's root has set up.
      const env = { HOME: this.home, XDG_CACHE_HOME: this.home, ...this.wish.env };
      const banner = path.join(this.home, "banner");
      if (this.wish.banner) fs.writeFileSync(banner, this.wish.banner);
      fs.writeFileSync(
        file,
        [
          `ListenAddress ${this.address}`,
          `HostKey ${this.home}/host_key`,
          `AuthorizedKeysFile ${this.home}/authorized_keys`,
          "StrictModes no",
          "UsePAM no",
          "PasswordAuthentication no",
          "PermitRootLogin prohibit-password",
          "PidFile none",
          `SetEnv ${Object.entries(env)
            .map(([key, value]) => `${key}="${value}"`)
            .join(" ")}`,
          ...(this.wish.banner ? [`Banner ${banner}`] : []),
          "",
        ].join("\n"),
      );
      this.server = this.begin("/usr/sbin/sshd", "-D", "-e", "-q", "-f", file);
    }
    await this.answers();
  }

  /** Waits until its server takes connections. */
  private async answers(): Promise<void> {
    for (;;) {
      if (this.server!.exitCode !== null) throw new Error(`the server of ${this.name} ended`);
      const socket = net.connect(22, this.address);
      const reached = await Promise.race([
        once(socket, "connect").then(
          () => true,
          () => false,
        ),
        sleep(500).then(() => false),
      ]);
      socket.destroy();
      if (reached) return;
      await sleep(50);
    }
  }

  cut(): void {
    run("ip", "link", "set", this.link, "down");
  }

  mend(): void {
    run("ip", "link", "set", this.link, "up");
  }

  shape(megabits: number): void {
    // Preamble, check and gap (24 B) are on a wire, too, and no packet is larger than the wire's.
    // A timer that is late by up to 2 ms costs nothing of the rate.
    const burst = Math.max(16_000, megabits * 250);
    const held = `root tbf rate ${megabits}mbit burst ${burst} latency 50ms overhead 24`.split(" ");
    const hold = (name: string, command: string, ...before: string[]) => {
      run(command, ...before, "ip", "link", "set", name, "gso_max_segs", "1");
      run(command, ...before, "tc", "qdisc", "replace", "dev", name, ...held);
    };
    hold(this.link, "env");
    hold("eth0", "ip", "netns", "exec", this.space);
  }

  traffic(): number {
    const of = (way: string) =>
      Number(fs.readFileSync(`/sys/class/net/${this.link}/statistics/${way}_bytes`, "utf8"));
    return of("rx") + of("tx");
  }

  /** Every process there: its program and its number. */
  private processes(): [program: string, id: number][] {
    const ids = run("ip", "netns", "pids", this.space).split(/\s+/).filter(Boolean).map(Number);
    return ids.flatMap((id): [string, number][] => {
      try {
        return [[fs.readFileSync(`/proc/${id}/comm`, "utf8").trim(), id]];
      } catch {
        return []; // it is gone
      }
    });
  }

  programs(): string[] {
    return this.processes().map(([program]) => program);
  }

  private kill(which: (program: string, id: number) => boolean): void {
    for (const [program, id] of this.processes())
      try {
        if (which(program, id)) process.kill(id, "SIGKILL");
      } catch {
        // It is gone.
      }
  }

  hangUp(): void {
    this.kill((program, id) => /^(sshd|dropbear)/.test(program) && id !== this.server!.pid);
  }

  killAll(named: string): void {
    this.kill((program) => program === named);
  }

  changeKey(): void {
    const text = fs.readFileSync(this.known, "utf8");
    const [, other] = text
      .split("\n")
      .find((line) => !line.startsWith(`${this.address} `))!
      .split(/ (.*)/);
    const own = new RegExp(`^${this.address.replaceAll(".", "[.]")} .*$`, "m");
    fs.writeFileSync(this.known, text.replace(own, `${this.address} ${other}`));
  }

  async stop(): Promise<void> {
    this.kill(() => true);
    if (this.server && this.server.exitCode === null && this.server.signalCode === null)
      await once(this.server, "exit");
  }

  async remove(): Promise<void> {
    await this.stop();
    run("umount", "--lazy", this.home);
    run("ip", "netns", "delete", this.space);
    try {
      run("ip", "link", "delete", this.link);
    } catch {
      // It goes with the namespace.
    }
  }
}
