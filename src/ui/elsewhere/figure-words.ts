import type { Figure } from "@/core/elsewhere/figure";
import { formatNumber, formatRate } from "@/core/units/number";

/** A figure in the unit of its column: requests a second, else MB/s. */
export function figureWords(figure: Figure): string {
  if (figure.kind === "iops") return formatNumber(figure.iops);
  return formatRate(figure.kind === "rate" ? figure.mbps : figure.bytes / 1e6 / figure.seconds);
}
