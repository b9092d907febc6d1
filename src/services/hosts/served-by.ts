import { execFile } from "node:child_process";
import { lookup } from "node:dns/promises";
import { promisify } from "node:util";
import { factOf, type SystemReport } from "@/core/system/system-report";
import { sshArguments } from "./ssh";

const run = promisify(execFile);
/** The client only reads its configuration for this; a name that is looked up takes longer. */
const MOST_MS = 5000;

/** The address that the SSH client would connect to for a host (ssh(1), -G); null where it does not say. */
async function addressOf(host: string): Promise<string | null> {
  try {
    const { stdout } = await run("ssh", ["-G", ...sshArguments(host, "true")], {
      timeout: MOST_MS,
    });
    const [, address] = /^hostname (\S+)$/m.exec(stdout) ?? [];
    return address ? resolved(address) : null;
  } catch {
    return null;
  }
}

/** A name as an address, where it is one of any. */
async function resolved(name: string): Promise<string> {
  try {
    return (await lookup(name)).address;
  } catch {
    return name.toLowerCase();
  }
}

/** The host of the bench that serves the share of a system's report; empty where it is none of them. */
export async function servedBy(report: SystemReport, hosts: readonly string[]): Promise<string> {
  const nodes = report.ways.flatMap((way) => way.nodes);
  const share = nodes.find(({ kind }) => kind === "network-share");
  const server = share && factOf(share, "server")?.value;
  if (!server) return "";
  const [address, ...known] = await Promise.all([resolved(server), ...hosts.map(addressOf)]);
  return hosts[known.indexOf(address)] ?? "";
}
