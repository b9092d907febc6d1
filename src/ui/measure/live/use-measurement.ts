"use client";

import { useEffect, useState } from "react";
import type { Measurement, Run } from "@/core/study/measurement";
import { ENDED } from "@/core/drills/request";
import { briefOf } from "@/core/run/brief";
import type { StepResult } from "@/core/run/result";
import type { SampleEvent } from "@/core/run/protocol";
import type { Touch } from "@/core/run/touch";
import { MeasurementEvents, type MeasurementEvent } from "@/core/study/measurement-event";
import { resultFrom } from "@/core/drills/summary";

/** Which step is being done. */
export interface StepNow {
  step: number;
  of: number;
  name: string | null;
  doing: StepResult["kind"];
  /** How long it will take, and how much it will move, where that is known. */
  seconds: number | null;
  bytes: number | null;
}

/** A measurement as followed live. */
export interface Live {
  measurement: Measurement | null;
  /** How far the scratch file is, bytes; null once measuring began. */
  preparing: { bytes: number; total: number } | null;
  now: StepNow | null;
  /** How the line to its host stands; null on this machine, and where that was never cut. */
  touch: Touch | null;
  /** Whether the server's voice was lost; the browser tries again by itself. */
  lost: boolean;
}

/** What a measurement looks like once one more thing was told of it. */
export function advance(live: Live, told: MeasurementEvent): Live {
  const { measurement } = live;
  if (!measurement) return live;
  const runs = (change: (runs: Run[]) => Run[]): Live => ({
    ...live,
    preparing: null,
    measurement: { ...measurement, status: "running", runs: change(measurement.runs) },
  });
  const inRun = (repeat: number, change: (run: Run) => Partial<Run>) =>
    runs((all) => all.map((run) => (run.repeat === repeat ? { ...run, ...change(run) } : run)));
  switch (told.event) {
    case "touch": {
      const { event: _, ...touch } = told;
      return { ...live, touch };
    }
    case "preparing":
      return { ...live, preparing: { bytes: told.bytes, total: told.total } };
    case "started":
      return runs((all) => [...all, newRun(told.repeat)]);
    case "step": {
      const { step, of, doing, seconds, bytes, label } = told;
      return { ...live, now: { step, of, doing, seconds, bytes, name: label.name ?? null } };
    }
    case "sample": {
      const { event: _, repeat, ...sample } = told;
      return inRun(repeat, ({ samples }) => ({ samples: [...samples, sample] }));
    }
    case "happened":
      return inRun(told.repeat, ({ events }) => ({ events: [...events, told.what] }));
    case "reading":
      return inRun(told.repeat, ({ readings }) => ({ readings: [...readings, told.reading] }));
    case "stepped":
      return inRun(told.repeat, ({ steps }) => ({ steps: [...steps, told.result] }));
    case "finished":
      return inRun(told.repeat, ({ steps }) => ({
        status: "done",
        result: briefOf(resultFrom(measurement.drill, steps)),
        errors: told.errors,
      }));
    case "ended":
      return {
        ...live,
        preparing: null,
        now: null,
        measurement: {
          ...measurement,
          status: told.status,
          reason: told.reason,
          runs: measurement.runs.map((run) =>
            run.status === "running" ? { ...run, status: told.status } : run,
          ),
        },
      };
    default:
      return live;
  }
}

/** The same for several things that were told; samples in a row are added at once. */
export function advanceAll(live: Live, told: readonly MeasurementEvent[]): Live {
  let [now, at] = [live, 0];
  while (at < told.length) {
    const first = told[at]!;
    let end = at + 1;
    if (first.event === "sample") {
      const alike = (one: MeasurementEvent | undefined) =>
        one?.event === "sample" && one.repeat === first.repeat;
      while (alike(told[end])) end += 1;
    }
    now =
      end - at > 1 ? withSamples(now, told.slice(at, end) as SampleEvent[]) : advance(now, first);
    at = end;
  }
  return now;
}

/** A long trace is copied once for all samples, not once for each. */
function withSamples(live: Live, told: readonly SampleEvent[]): Live {
  const [first, ...others] = told;
  const begun = advance(live, first!);
  const { measurement } = begun;
  if (!measurement) return live;
  const more = others.map(({ event: _, repeat: _repeat, ...sample }) => sample);
  return {
    ...begun,
    measurement: {
      ...measurement,
      runs: measurement.runs.map((run) =>
        run.repeat === first!.repeat ? { ...run, samples: [...run.samples, ...more] } : run,
      ),
    },
  };
}

/** Often enough to be live, seldom enough not to take the processor from the measuring. */
const TOGETHER_MS = 1000;

const newRun = (repeat: number): Run => ({
  id: `live-${repeat}`,
  repeat,
  status: "running",
  result: null,
  steps: [],
  samples: [],
  events: [],
  readings: [],
  errors: [],
  corrections: [],
  leftOut: null,
});

const UNKNOWN: Live = { measurement: null, preparing: null, now: null, touch: null, lost: false };

/** Follows a measurement until it ends. @param onEnded called once when it does */
export function useMeasurement(id: string, onEnded: () => void): Live {
  const [live, setLive] = useState<Live>(UNKNOWN);
  useEffect(() => {
    const source = new EventSource(`/api/measurements/${id}/events`);
    let waiting: MeasurementEvent[] = [];
    let timer: ReturnType<typeof setTimeout> | null = null;
    const show = () => {
      timer = null;
      const all = waiting;
      waiting = [];
      setLive((was) => advanceAll(was, all));
    };
    source.addEventListener("snapshot", (event) => {
      const measurement = JSON.parse((event as MessageEvent<string>).data) as Measurement;
      // What came before it is in it.
      waiting = [];
      setLive({ ...UNKNOWN, measurement });
      if (ENDED.includes(measurement.status)) source.close();
    });
    source.addEventListener("progress", (event) => {
      const told = MeasurementEvents.parse(JSON.parse((event as MessageEvent<string>).data));
      waiting.push(...told);
      if (told.some((one) => one.event === "ended")) {
        if (timer) clearTimeout(timer);
        show();
        source.close();
        onEnded();
      } else timer ??= setTimeout(show, TOGETHER_MS);
    });
    source.addEventListener("error", () => setLive((was) => ({ ...was, lost: true })));
    return () => {
      if (timer) clearTimeout(timer);
      source.close();
    };
    // The follower lives as long as the measurement it follows.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id]);
  return live;
}
