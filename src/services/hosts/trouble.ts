/** Why a host was not reached. */
export interface HostTrouble {
  code:
    | "key-refused"
    | "host-key-changed"
    | "host-key-unknown"
    | "no-such-host"
    | "not-reached"
    | "broken";
  /** What happened, and what to do. */
  reason: string;
}

/** A host cannot be used as it is asked for. */
export class HostProblem extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

/** A host whose shell did not answer in time. */
export const tooLate = (host: string, mostMs: number): HostTrouble => ({
  code: "broken",
  reason: `${host} did not answer within ${mostMs / 1e3} s. Something that its shell does at every login may wait: try ssh ${host} true.`,
});

/** What the SSH client says, by which failure it is known. In the order in which they count. */
const KNOWN: [HostTrouble["code"], RegExp, (host: string) => string][] = [
  [
    "host-key-changed",
    /HOST IDENTIFICATION HAS CHANGED/i,
    (host) =>
      `${host} shows another host key than before: it was set up anew, or something answers in its place. Find out which; then remove the old key with ssh-keygen -R, and log in once by hand.`,
  ],
  [
    "host-key-unknown",
    /Host key verification failed|No .* host key is known/i,
    (host) => `${host} is not known yet: log in once with ssh ${host}, and confirm its host key.`,
  ],
  [
    "key-refused",
    /Permission denied|Too many authentication failures|no supported authentication/i,
    (host) =>
      `${host} takes none of your keys. ssh ${host} has to work without a password. Put your public key there with ssh-copy-id, or name the key in your SSH configuration.`,
  ],
  [
    "no-such-host",
    /Could not resolve hostname|Name or service not known/i,
    (host) =>
      `There is no host ${host}: neither your SSH configuration nor the network knows that name.`,
  ],
  [
    "not-reached",
    /Connection refused|No route to host|Network is unreachable|timed out during banner|Connection timed out|Operation timed out/i,
    (host) => `${host} does not answer: it is off, on another network, or takes no SSH.`,
  ],
];

/**
 * What a failure of the SSH client is, in words.
 *
 * @param said what it wrote
 */
export function troubleIn(host: string, said: string): HostTrouble {
  const found = KNOWN.find(([, sign]) => sign.test(said));
  const last =
    said
      .trim()
      .split("\n")
      .at(-1)
      ?.trim()
      .replace(/^ssh: /, "")
      .slice(0, 300) ?? "";
  if (!found)
    return {
      code: "broken",
      reason: `The line to ${host} ended.${last ? ` ssh said: ${last}` : ""}`,
    };
  const [code, , reason] = found;
  return { code, reason: `${reason(host)}${last ? ` (ssh: ${last})` : ""}` };
}
