import { mean } from "simple-statistics";
import type { Drift } from "./drift";
import type { Series } from "./series";

const DAY_MS = 86_400_000;
const DAYS_A_YEAR = 365.25;

/** A day of a series beside what the series gave before it changed. */
export interface RelativeDay {
  /** Which of the drift's series. */
  series: number;
  day: string;
  /** 1 is what the series gave before its part changed. */
  share: number;
}

/** What a drift says a rate is on a day, as a share of what it was at first. */
export function fittedOn({ shape, step, change, perYear, first }: Drift, day: string): number {
  if (shape === "step") return day >= step!.day ? 1 + change!.share : 1;
  if (shape !== "slope") return 1;
  const years = (Date.parse(day) - Date.parse(first)) / DAY_MS / DAYS_A_YEAR;
  return (1 + perYear!.share) ** years;
}

/**
 * Returns the days of all series of a part on one scale: each rate as a share of what its series gave before
 * the change, which is the geometric mean of its rates once the change is taken out.
 */
export const relativeDays = (drift: Drift): RelativeDay[] =>
  drift.series.flatMap(({ days }, series) => {
    const base = Math.exp(mean(days.map(({ day, mbps }) => Math.log(mbps / fittedOn(drift, day)))));
    return days.map(({ day, mbps }) => ({ series, day, share: mbps / base }));
  });

/** A series in words: "Rig A, Haul reading on desk". */
export const seriesWords = ({ rigName, drill, direction, host }: Series): string =>
  `${rigName}, ${drill} ${direction === "read" ? "reading" : "writing"}${host ? ` on ${host}` : ""}`;
