import { formatNumber } from "../units/number";
import { formatSize } from "../units/size";
import type { HostFacts } from "./host-facts";
import type { ShownHost } from "./known-host";

/** System, processor and memory of a host, in a line. */
export const machineWords = ({
  system,
  release,
  architecture,
  processor,
  cores,
  memoryBytes,
}: HostFacts): string =>
  [
    `${system} ${release}, ${architecture}`,
    processor,
    cores && `${cores} ${cores === 1 ? "core" : "cores"}`,
    memoryBytes && `${formatSize(memoryBytes)} memory`,
  ]
    .filter(Boolean)
    .join(" · ");

/** What was found on a host that measuring needs, and how soon the host answers, in a line. */
export const foundWords = ({ node, compiler, roundTripMs }: HostFacts): string =>
  [
    node ? `Node ${node.version}` : "no Node",
    compiler ? "a C compiler" : "no C compiler",
    roundTripMs !== null && `answers in ${formatNumber(roundTripMs)} ms`,
  ]
    .filter(Boolean)
    .join(" · ");

/** How a host is measured on whose drives are not seen; null where they are, or where nothing can be measured. */
export const placeWords = ({ name, measuredBy }: ShownHost): string | null =>
  measuredBy === "program"
    ? `To measure there, type the place on a study’s Measure page: ${name}:/media/drive.`
    : null;

/** Whether a host can be measured on, in a few words. */
export function stateWords({ trouble, measuredBy }: ShownHost): string {
  if (trouble) return "Not reached";
  if (measuredBy === null) return "Can be watched, not measured on as it is";
  return measuredBy === "engine" ? "Ready to measure" : "Ready to measure, by the small program";
}
