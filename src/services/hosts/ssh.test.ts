import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { describe, expect, it, vi } from "vitest";
import { UNPACK } from "./pack";
import { quoted, sshArguments, startOn } from "./ssh";
import { troubleIn } from "./trouble";

describe("the SSH client", () => {
  it("is given the host behind the options, and no host that is none", () => {
    const args = sshArguments("me@lab2", "true");
    expect(args.slice(-3)).toEqual(["--", "me@lab2", "true"]);
    expect(() => sshArguments("-oProxyCommand=x", "true")).toThrow();
  });

  it("asks nothing, forwards nothing and takes its configuration’s word for the rest", () => {
    // As the client itself understands the arguments (ssh(1), -G).
    const { stdout } = spawnSync("ssh", ["-G", "-F", "none", ...sshArguments("lab2", "true")], {
      encoding: "utf8",
    });
    const settings = new Set(stdout.toLowerCase().split("\n"));
    for (const line of [
      "batchmode yes",
      "clearallforwardings yes",
      "forwardagent no",
      "forwardx11 no",
      "permitlocalcommand no",
      "requesttty false",
    ])
      expect(settings).toContain(line);
    expect(settings).toContain("host lab2");
  });

  it("is not waited for for ever where nothing comes back, and says what may wait there", async () => {
    const config = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-ssh-")), "config");
    // A way to a host on which everything is heard and nothing is answered.
    fs.writeFileSync(config, "Host mute\n  ProxyCommand sed d\n");
    vi.stubEnv("NERRIT_SSH_CONFIG", config);
    const { ended } = startOn("mute", "true", 50);
    expect(await ended).toMatchObject({
      status: null,
      trouble: { code: "broken", reason: expect.stringMatching(/within 0.05 s.*ssh mute true/) },
    });
    vi.unstubAllEnvs();
    fs.rmSync(path.dirname(config), { recursive: true });
  });

  it("is handed words that no shell changes", () => {
    for (const word of ["a b", "$HOME", "`x`", '"', ";", UNPACK]) {
      const { stdout } = spawnSync("sh", ["-c", `printf %s ${quoted(word)}`], { encoding: "utf8" });
      expect(stdout).toBe(word);
    }
    for (const word of ["a'b", "a\nb", "a!b", "a\\b"]) expect(() => quoted(word)).toThrow();
  });
});

describe("why a host is not reached", () => {
  // As OpenSSH 9.2 writes them.
  it.each([
    ["key-refused", "me@lab2: Permission denied (publickey,password)."],
    [
      "key-refused",
      "Received disconnect from 10.0.0.7 port 22:2: Too many authentication failures",
    ],
    [
      "host-key-changed",
      "@@@@@@@@@@@\n@    WARNING: REMOTE HOST IDENTIFICATION HAS CHANGED!     @\n@@@@@\nHost key for lab2 has changed and you have requested strict checking.\nHost key verification failed.",
    ],
    [
      "host-key-unknown",
      "No ED25519 host key is known for lab2 and you have requested strict checking.\nHost key verification failed.",
    ],
    ["no-such-host", "ssh: Could not resolve hostname lab9: Name or service not known"],
    ["not-reached", "ssh: connect to host 10.0.0.7 port 22: Connection refused"],
    ["not-reached", "ssh: connect to host 10.0.0.7 port 22: No route to host"],
    ["not-reached", "ssh: connect to host 10.0.0.7 port 22: Connection timed out"],
    ["not-reached", "Connection timed out during banner exchange"],
    ["broken", "Connection to 10.0.0.7 closed by remote host."],
    ["broken", ""],
  ])("is known as %s by %j", (code, said) => {
    const trouble = troubleIn("lab2", said);
    expect(trouble.code).toBe(code);
    expect(trouble.reason).toContain("lab2");
  });
});
