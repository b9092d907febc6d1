import type { OpenTrace } from "@/core/study/open-trace";
import { logOf, sensorOf } from "@/core/run/sensor";
import type { Reading } from "@/core/run/result";
import type { Place } from "@/core/reading/reduce";
import type { RateUnit } from "@/core/units/rate";
import { zeroOf, type Alignment, type Axis } from "./axis";

/** A trace with the places that are drawn of it now. */
export interface Drawn {
  trace: OpenTrace;
  name: string;
  places: readonly Place[];
}

export interface View {
  axis: Axis;
  alignment: Alignment;
  unit: RateUnit;
  /** What is looked at, in the axis's unit. */
  range: readonly [number, number];
  /** Of a picture of the traces alone, pixels; left out where what the system showed stands below. */
  height?: number;
}

/** How high what the system showed is, each; the rest is the rate's. */
export const ROW = 44;

export interface Row {
  name: string;
  lines: { name: string; points: [number, number][] }[];
}

/** What the system showed meanwhile: of the first run only. */
export function rowsBelow(drawn: readonly Drawn[], view: View): Row[] {
  const [first] = drawn;
  if (!first || view.axis === "bytes") return [];
  const { trace } = first;
  const zero = zeroOf(trace, "time", view.alignment);
  const all = [...new Set(trace.readings.flatMap(({ celsius }) => Object.keys(celsius)))];
  // What the tester laid over the run is what the tester wants to see.
  const names = [...all.filter(logOf), ...all.filter((what) => !logOf(what))].slice(0, 4);
  const points = (of: (reading: Reading) => number | null | undefined): [number, number][] =>
    trace.readings.flatMap((reading): [number, number][] => {
      const value = of(reading) ?? null;
      return value === null ? [] : [[(reading.ms - zero) / 1e3, value]];
    });
  const warm = names.map((name) => ({
    name: `${sensorOf(name)}, °C`,
    points: points(({ celsius }) => celsius[name]),
  }));
  const busy = trace.readings.some(({ machine }) => machine !== null);
  const shares = (["machine", "engine"] as const).map((what) => ({
    name: what === "machine" ? "processor, %" : "processor of the measuring, %",
    points: points((one) => one[what] && one[what] * 100),
  }));
  const far = trace.readings.findLast((one) => one.far)?.far?.host;
  const farCores = {
    name: `busiest core of ${far}, %`,
    points: points((one) =>
      one.far && one.far.cores.length > 0 ? Math.max(...one.far.cores) : null,
    ),
  };
  return [
    ...(warm.length > 0 ? [{ name: headOf("°C", names.map(sensorOf)), lines: warm }] : []),
    ...(busy ? [{ name: headOf("processor, %", ["all", "the measuring"]), lines: shares }] : []),
    ...(far === undefined ? [] : [{ name: farCores.name, lines: [farCores] }]),
  ];
}

/** The strokes of a row's lines, in the order of STROKES. */
const SIGNS = ["──", "╌╌", "┈┈"];

/** What a row shows, and which of its lines is which. */
const headOf = (what: string, lines: readonly string[]): string =>
  lines.length < 2
    ? what
    : `${what}   ${lines.map((line, i) => `${SIGNS[i % SIGNS.length]} ${line}`).join("   ")}`;
