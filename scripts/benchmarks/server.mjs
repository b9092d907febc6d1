/** What benches and soaks ask of a running Nerrit. */

/** @returns what the route answers. @throws its words where it refuses */
export async function post(url, route, body) {
  const response = await fetch(url + route, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(body),
  });
  const said = await response.json();
  if (!response.ok) throw new Error(said.error.message);
  return said;
}

/** A study with one rig whose link holds nothing back. @returns their identifiers */
export async function makeRig(url, title) {
  const modes = ["stated-99999"];
  const part = async (kind, name, side) =>
    (await post(url, "/api/parts", { kind, name, connectors: [{ side, modes }] })).id;
  const partIds = [await part("host-port", "Port", "down"), await part("drive", "Device", "up")];
  const { id } = await post(url, "/api/studies", { title });
  const made = await post(url, `/api/studies/${id}/rigs`, { name: "Straight", partIds });
  return { study: id, rig: made.id };
}
