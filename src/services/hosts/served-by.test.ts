import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { blankNode } from "@/core/system/blank-node";
import type { SystemReport } from "@/core/system/system-report";
import { servedBy } from "./served-by";

const why = spawnSync("ssh", ["-V"]).error ? "there is no SSH client" : null;

describe.skipIf(why)("the host that serves a share", () => {
  let folder: string;
  const before = process.env.NERRIT_SSH_CONFIG;
  beforeAll(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-served-"));
    const config = path.join(folder, "config");
    fs.writeFileSync(config, "Host router\n  HostName 10.0.0.7\nHost lab2\n  HostName 10.0.0.8\n");
    process.env.NERRIT_SSH_CONFIG = config;
  });
  afterAll(() => {
    if (before === undefined) delete process.env.NERRIT_SSH_CONFIG;
    else process.env.NERRIT_SSH_CONFIG = before;
    fs.rmSync(folder, { recursive: true });
  });

  const mounted = (server: string | null): SystemReport =>
    ({
      ways: [
        {
          nodes: server
            ? [
                {
                  ...blankNode("network-share", "share", "share"),
                  facts: [{ what: "server", value: server, from: "/proc/self/mountinfo" }],
                },
              ]
            : [blankNode("disk", "sda", "/sys/block/sda")],
        },
      ],
    }) as unknown as SystemReport;

  it("is the one of the bench at whose address the mount's server is", async () => {
    expect(await servedBy(mounted("10.0.0.8"), ["router", "lab2"])).toBe("lab2");
    expect(await servedBy(mounted("10.0.0.7"), ["router", "lab2"])).toBe("router");
  });

  it("is none where the server is no host of the bench, or nothing is a share", async () => {
    expect(await servedBy(mounted("10.0.0.9"), ["router", "lab2"])).toBe("");
    expect(await servedBy(mounted("10.0.0.7"), [])).toBe("");
    expect(await servedBy(mounted(null), ["router"])).toBe("");
  });
});
