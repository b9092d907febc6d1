import { isSlower } from "../chain/link";
import { findMode } from "../ledger/catalogue";
import { sasMode, sataMode } from "./modes";
import { factOf, type SeenNode, type SystemFinding } from "./system-report";

/** A link that its own end could run faster; and, where the end above says so, which end is the slower. */
export function belowMaximum(node: SeenNode, above: readonly SeenNode[]): SystemFinding[] {
  const { link } = node;
  const now = link?.mode ? findMode(link.mode) : null;
  if (!link || !now) return [];
  const upper = above.at(-1);
  if (upper?.kind === "sata-port") return belowSata(node, upper);
  if (upper?.kind === "sas-port") return belowAdapter(node, upper);
  const most = link.mostMode ? findMode(link.mostMode) : null;
  if (!most || !isSlower(now, most)) return [];
  const port = upper && factOf(upper, "most it can do");
  const why =
    port?.value === link.now
      ? `; the ${upper!.name} above it can do no more than ${port.value}`
      : port
        ? `; the ${upper!.name} above it could do ${port.value} too, so it is not the port`
        : "";
  const from = [...link.from, ...(port ? [port.from] : [])];
  const text = `${node.name} runs at ${link.now}, below its maximum of ${link.most}${why}.`;
  return [{ what: "link below its maximum", text, from }];
}

/**
 * A SATA link below what its drive supports (word 76 of its own data), or one that the system has
 * slowed down after errors. The port's own limit is seldom known: a limit set at start, or what an
 * AHCI controller says.
 */
function belowSata({ name, link }: SeenNode, port: SeenNode): SystemFinding[] {
  const now = findMode(link!.mode!)!;
  const slowed = factOf(port, "limit after errors");
  const times = factOf(port, "times slowed after errors");
  const limits = ["limit set at start", "most the port can do"].flatMap(
    (what) => factOf(port, what) ?? [],
  );
  const [limit] = limits.toSorted((a, b) => parseFloat(a.value) - parseFloat(b.value));
  const limitMode = limit && sataMode(limit.value);
  const most = link!.mostMode ?? limitMode;
  const runs = `${name} runs at ${link!.now}`;
  if (slowed || times) {
    const facts = [slowed, times].filter((fact) => fact !== undefined);
    const could =
      most && isSlower(now, findMode(most)!) ? `, below the ${findMode(most)!.short} it could` : "";
    return [
      {
        what: "link below its maximum",
        text: `${runs}${could}. The system has lowered the speed itself${times ? ` ${times.value} ${times.value === "1" ? "time" : "times"}` : ""}, as it does after errors: look at the cable.`,
        from: [...link!.from, ...facts.map(({ from }) => from)],
      },
    ];
  }
  if (!most || !isSlower(now, findMode(most)!)) return [];
  const portIsSlow = limitMode === link!.mode && link!.mostMode !== null;
  const why = portIsSlow
    ? `Its port can do no more than ${limit!.value}.`
    : !link!.mostMode
      ? "The drive, the cable or the backplane limits it."
      : limit
        ? `Its port could do ${limit.value}, so the cable or the backplane limits it.`
        : "The port, the cable or the backplane limits it; the system reports nothing of the port.";
  const below = link!.mostMode
    ? `the ${link!.most} that it supports`
    : `the ${limit!.value} of its port`;
  return [
    {
      what: "link below its maximum",
      text: `${runs}, below ${below}. ${why}`,
      from: [...link!.from, ...(limit ? [limit.from] : [])],
    },
  ];
}

/** A disk on a SAS adapter: a SATA drive by its own words, a SAS drive by what the adapter could do. */
function belowAdapter({ name, link }: SeenNode, port: SeenNode): SystemFinding[] {
  const now = findMode(link!.mode!)!;
  if (now.family === "sata") {
    const most = link!.mostMode ? findMode(link!.mostMode) : null;
    if (!most || !isSlower(now, most)) return [];
    const text = `${name} runs at ${link!.now}, below the ${link!.most} that it supports: look at the cable and the backplane.`;
    return [{ what: "link below its maximum", text, from: link!.from }];
  }
  const limit = factOf(port, "most the port can do");
  const most = limit ? findMode(sasMode(limit.value) ?? "") : null;
  if (!limit || !most || !isSlower(now, most)) return [];
  const text = `${name} runs at ${link!.now}, below the ${limit.value} of its port. The drive, the cable or the backplane limits it; the system does not report the drive’s own limit.`;
  return [{ what: "link below its maximum", text, from: [...link!.from, limit.from] }];
}
