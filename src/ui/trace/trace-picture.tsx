"use client";

import type { EChartsType } from "echarts/core";
import { useCallback, useEffect, useRef, useState, type KeyboardEvent } from "react";
import type { OpenTrace } from "@/core/study/open-trace";
import { inUnit, type RateUnit } from "@/core/units/rate";
import { LazyPlot } from "../charts/lazy-plot";
import type { Look } from "../charts/plot";
import { Button } from "../controls/form";
import { AXIS_NAMES, AXES, heightOf, placeOf, zeroOf, type Alignment, type Axis } from "./axis";
import { ClipDialog } from "./clip-dialog";
import { traceOption } from "./trace-option";
import { useStretches } from "./use-stretches";

type Range = readonly [number, number];

/** One or several traces, to be looked at closely by mouse and by keys. */
export function TracePicture({
  traces,
  names,
  axis,
  alignment,
  unit,
  title,
  statement,
}: {
  traces: readonly OpenTrace[];
  names: readonly string[];
  axis: Axis;
  alignment: Alignment;
  unit: RateUnit;
  title: string;
  /** What happened in it, in a sentence; left out where that is not known. */
  statement?: string;
}) {
  const whole = wholeOf(traces, axis, alignment);
  const [looked, setLooked] = useState<{ of: string; range: Range } | null>(null);
  // Another axis has another measure: what was looked at means nothing on it.
  const of = `${axis} ${alignment}`;
  const range = looked?.of === of ? looked.range : null;
  const stretches = traces.map((trace) => range && stretchOf(trace, range, axis, alignment));
  const places = useStretches(traces, stretches);
  const chart = useRef<EChartsType | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const [clip, setClip] = useState(false);
  const [cursor, setCursor] = useState<number | null>(null);

  const drawn = traces.map((trace, i) => ({ trace, name: names[i]!, places: places[i]! }));
  // The drawing depends on what is drawn, and on nothing else of this render.
  const content = `${of} ${unit} ${(range ?? whole).join()} ${drawn.map((one) => `${one.name} ${one.places.length} ${one.places[1]?.toMs}`).join()} ${traces.map(({ corrections, readings }) => `${JSON.stringify(corrections)} ${readings.length}`).join()}`;
  const option = useCallback(
    (look: Look) => traceOption(drawn, { axis, alignment, unit, range: range ?? whole }, look),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [content],
  );

  const look = (next: Range) => {
    const width = Math.min(whole[1] - whole[0], Math.max(next[1] - next[0], 1e-3));
    const from = Math.min(Math.max(next[0], whole[0]), whole[1] - width);
    const all = width >= (whole[1] - whole[0]) * 0.999;
    setLooked(all ? null : { of, range: [from, from + width] });
  };
  const zoom = (factor: number, at = 0.5) => {
    const [from, to] = range ?? whole;
    const middle = from + (to - from) * at;
    look([middle - (middle - from) * factor, middle + (to - middle) * factor]);
  };
  const pan = (share: number) => {
    const [from, to] = range ?? whole;
    const by = (to - from) * share;
    look([from + by, to + by]);
  };
  const point = (step: number) => {
    const main = places[0]!;
    const zero = zeroOf(traces[0]!, axis, alignment);
    const [from, to] = range ?? whole;
    const inside = main.flatMap((place, i) => {
      const x = placeOf(place, axis, zero);
      return x >= from && x <= to ? [i] : [];
    });
    if (inside.length === 0) return;
    const at = cursor === null ? -1 : inside.findIndex((i) => i >= cursor);
    const jump = Math.sign(step) * Math.max(1, Math.round((Math.abs(step) * inside.length) / 200));
    const next = inside[Math.min(inside.length - 1, Math.max(0, at + jump))]!;
    setCursor(next);
    const x = placeOf(main[next]!, axis, zero);
    const y =
      axis === "sum" ? main[next]!.bytes / 1e9 : heightOf(main[next]!.mean, axis, unit, traces[0]!);
    const [px, py] = chart.current?.convertToPixel({ gridIndex: 0 }, [x, y]) ?? [0, 0];
    chart.current?.dispatchAction({ type: "showTip", x: px, y: py });
  };
  const onKey = (event: KeyboardEvent) => {
    const act: Record<string, () => void> = {
      "+": () => zoom(0.5),
      "=": () => zoom(0.5),
      "-": () => zoom(2),
      "0": () => setLooked(null),
      ArrowLeft: () => (event.shiftKey ? point(-1) : pan(-0.2)),
      ArrowRight: () => (event.shiftKey ? point(1) : pan(0.2)),
      Home: () => look([whole[0], whole[0] + width(range ?? whole)]),
      End: () => look([whole[1] - width(range ?? whole), whole[1]]),
    };
    if (!act[event.key] || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    act[event.key]!();
  };

  useWheelAndDrag(box, { zoom, pan });

  const [from, to] = range ?? whole;
  const digits = to - from < 12 ? 2 : 0;
  return (
    <div>
      <div
        ref={box}
        tabIndex={0}
        role="group"
        aria-label={`${AXES[axis]}: plus and minus zoom, arrows move, Shift and arrows point, 0 shows all`}
        onKeyDown={onKey}
        className="cursor-grab touch-none active:cursor-grabbing"
      >
        <LazyPlot
          label={`${title}: ${AXES[axis]}. The table below has the values.`}
          option={option}
          className="h-[400px] w-full select-none"
          onChart={(made) => (chart.current = made)}
          slideOption={(look, height) =>
            traceOption(drawn, { axis, alignment, unit, range: range ?? whole, height }, look)
          }
          out={{
            caption: { title, note: noteOf(traces, names, axis, unit) },
            statement,
            rows: () => rowsOf(drawn, axis, alignment, unit),
          }}
        />
      </div>
      <p className="flex flex-wrap items-center gap-2 text-[13px] text-secondary">
        <span className="figure" data-range={`${from} ${to}`}>
          {from.toFixed(digits)} to {to.toFixed(digits)} {AXIS_NAMES[axis]}
        </span>
        <Button className="!px-2 !py-0 text-sm" aria-label="Zoom in" onClick={() => zoom(0.5)}>
          +
        </Button>
        <Button className="!px-2 !py-0 text-sm" aria-label="Zoom out" onClick={() => zoom(2)}>
          −
        </Button>
        <Button className="ml-auto !px-2 !py-0 text-sm" onClick={() => setClip(true)}>
          Save as a clip
        </Button>
        {clip && (
          <ClipDialog
            traces={traces}
            names={names}
            unit={unit}
            title={title}
            onClose={() => setClip(false)}
          />
        )}
        {range && (
          <Button className="!px-2 !py-0 text-sm" onClick={() => setLooked(null)}>
            Show all
          </Button>
        )}
        <span>wheel or + and − zoom · drag or ← → move · Shift ← → points</span>
      </p>
    </div>
  );
}

const width = ([from, to]: Range) => to - from;

function wholeOf(traces: readonly OpenTrace[], axis: Axis, alignment: Alignment): Range {
  const ends = traces.map((trace) => {
    const zero = zeroOf(trace, axis, alignment);
    if (axis === "bytes") return [-zero / 1e9, ((trace.places.at(-1)?.bytes ?? 0) - zero) / 1e9];
    return [(trace.startMs - zero) / 1e3, (trace.endMs - zero) / 1e3];
  });
  const from = Math.min(...ends.map(([a]) => a!));
  return [from, Math.max(from + 1e-3, ...ends.map(([, b]) => b!))];
}

/** The milliseconds of a trace that are looked at. */
function stretchOf(trace: OpenTrace, [from, to]: Range, axis: Axis, alignment: Alignment): Range {
  const zero = zeroOf(trace, axis, alignment);
  if (axis !== "bytes") return [from * 1e3 + zero, to * 1e3 + zero];
  const at = (gb: number) => {
    const place = trace.places.find(({ bytes }) => bytes - zero >= gb * 1e9);
    return place?.fromMs ?? trace.endMs;
  };
  return [at(from), Math.max(at(to), at(from) + 1)];
}

/** Turning the wheel zooms about the pointer; dragging moves. */
function useWheelAndDrag(
  box: React.RefObject<HTMLDivElement | null>,
  hands: { zoom: (factor: number, at: number) => void; pan: (share: number) => void },
) {
  const latest = useRef(hands);
  useEffect(() => {
    latest.current = hands;
  });
  useEffect(() => {
    const element = box.current!;
    // Beside the drawing stand the figures of its axis.
    const inner = () => {
      const { left, width: wide } = element.getBoundingClientRect();
      return { left: left + 62, wide: Math.max(1, wide - 84) };
    };
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const { left, wide } = inner();
      const at = Math.min(1, Math.max(0, (event.clientX - left) / wide));
      latest.current.zoom(event.deltaY > 0 ? 1.25 : 0.8, at);
    };
    let last: number | null = null;
    const onDown = (event: PointerEvent) => {
      const inside = event.target instanceof Element && event.target.closest("svg, canvas");
      if (event.button !== 0 || !inside || event.target.closest("button")) return;
      last = event.clientX;
    };
    const onMove = (event: PointerEvent) => {
      if (last === null) return;
      latest.current.pan((last - event.clientX) / inner().wide);
      last = event.clientX;
    };
    const onUp = () => (last = null);
    element.addEventListener("wheel", onWheel, { passive: false });
    element.addEventListener("pointerdown", onDown);
    window.addEventListener("pointermove", onMove);
    window.addEventListener("pointerup", onUp);
    return () => {
      element.removeEventListener("wheel", onWheel);
      element.removeEventListener("pointerdown", onDown);
      window.removeEventListener("pointermove", onMove);
      window.removeEventListener("pointerup", onUp);
    };
  }, [box]);
}

function noteOf(
  traces: readonly OpenTrace[],
  names: readonly string[],
  axis: Axis,
  unit: RateUnit,
): string {
  const what = axis === "sum" ? "GB moved" : axis === "ops" ? "requests a second" : unit;
  const made = traces.some(({ origin }) => origin === "simulated") ? " Simulated." : "";
  const of = traces.map(({ drill, summary }, i) => `${names[i]}: ${drill}, ${summary}`).join("; ");
  return `${AXES[axis]}, in ${what}. ${of}.${made}`;
}

function rowsOf(
  drawn: readonly {
    trace: OpenTrace;
    name: string;
    places: readonly OpenTrace["places"][number][];
  }[],
  axis: Axis,
  alignment: Alignment,
  unit: RateUnit,
) {
  const head = [
    "run",
    `from, s`,
    "to, s",
    "bytes moved",
    `mean, ${unit}`,
    `least, ${unit}`,
    `most, ${unit}`,
  ];
  return [
    head,
    ...drawn.flatMap(({ trace, name, places }) => {
      const zero = zeroOf(trace, axis === "bytes" ? "time" : axis, alignment);
      return places.map((place) => [
        name,
        Number(((place.fromMs - zero) / 1e3).toFixed(3)),
        Number(((place.toMs - zero) / 1e3).toFixed(3)),
        Math.round(place.bytes),
        ...[place.mean, place.least, place.most].map((mbps) =>
          Number(inUnit(mbps, unit).toPrecision(6)),
        ),
      ]);
    }),
  ];
}
