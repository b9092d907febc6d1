import type { Claim } from "@/core/chain/claim";
import type { Server } from "./server";

/** Asks a route to make something. @returns its id. @throws what it is refused with */
export async function make(server: Server, route: string, body: object): Promise<string> {
  const response = await fetch(server.url + route, { method: "POST", body: JSON.stringify(body) });
  const { id, error } = (await response.json()) as { id?: string; error?: { message: string } };
  if (error) throw new Error(`${route}: ${error.message}`);
  return id!;
}

/**
 * A study with one rig: a socket and a disk that are linked by one mode.
 *
 * @param claims of the disk
 * @returns the study's id
 */
export async function straightStudy(
  server: Server,
  title: string,
  mode: string,
  claims: Claim[] = [],
): Promise<string> {
  const part = (kind: string, name: string, side: string, more: object = {}) =>
    make(server, "/api/parts", { kind, name, connectors: [{ side, modes: [mode] }], ...more });
  const partIds = [
    await part("host-port", "Socket", "down"),
    await part("drive", "Disk", "up", { claims }),
  ];
  const study = await make(server, "/api/studies", { title });
  await make(server, `/api/studies/${study}/rigs`, { name: "Straight", partIds });
  return study;
}
