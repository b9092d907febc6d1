import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { HostName } from "@/core/units/host-name";

/** The hosts that the tester's SSH configuration names one by one (ssh_config(5), Host). */
export function configuredHosts(): string[] {
  const file =
    process.env.NERRIT_SSH_CONFIG ??
    path.join(/* turbopackIgnore: true */ os.homedir(), ".ssh", "config");
  let text = "";
  try {
    text = fs.readFileSync(/* turbopackIgnore: true */ file, "utf8");
  } catch {
    return [];
  }
  const names = text
    .split("\n")
    .flatMap((line) => /^\s*Host[\s=]+(.*)$/i.exec(line)?.[1]?.split(/\s+/) ?? []);
  return [...new Set(names)].filter((name) => HostName.safeParse(name).success);
}
