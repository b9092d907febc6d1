"use client";

import { useEffect, useState } from "react";
import type { Measurement, Run } from "@/core/study/measurement";
import { ENDED, type RunStatus } from "@/core/drills/request";
import type { RunResult } from "@/core/drills/result";

/** A measurement as followed live. */
export interface Live {
  measurement: Measurement | null;
  /** How far the scratch file is, bytes; null once measuring began. */
  preparing: { bytes: number; total: number } | null;
  /** Whether the server's voice was lost; the browser tries again by itself. */
  lost: boolean;
}

/** What the server tells of a measurement under way. */
export type Progress =
  | { event: "preparing"; bytes: number; total: number }
  | { event: "started"; repeat: number }
  | { event: "sample"; repeat: number; ms: number; bytes: number }
  | { event: "finished"; repeat: number; result: RunResult }
  | { event: "ended"; status: RunStatus; reason: string | null }
  | { event: "conditions" };

/** What a measurement looks like once one more thing was told of it. */
export function advance(live: Live, told: Progress): Live {
  const { measurement } = live;
  if (!measurement) return live;
  const runs = (change: (runs: Run[]) => Run[]): Live => ({
    ...live,
    preparing: null,
    measurement: { ...measurement, status: "running", runs: change(measurement.runs) },
  });
  switch (told.event) {
    case "preparing":
      return { ...live, preparing: { bytes: told.bytes, total: told.total } };
    case "started":
      return runs((all) => [
        ...all,
        {
          id: `live-${told.repeat}`,
          repeat: told.repeat,
          status: "running",
          result: null,
          samples: [],
        },
      ]);
    case "sample":
      return runs((all) =>
        all.map((run) =>
          run.repeat === told.repeat
            ? { ...run, samples: [...run.samples, { ms: told.ms, bytes: told.bytes }] }
            : run,
        ),
      );
    case "finished":
      return runs((all) =>
        all.map((run) =>
          run.repeat === told.repeat ? { ...run, status: "done", result: told.result } : run,
        ),
      );
    case "ended":
      return {
        ...live,
        preparing: null,
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

/** Follows a measurement until it ends. @param onEnded called once when it does */
export function useMeasurement(id: string, onEnded: () => void): Live {
  const [live, setLive] = useState<Live>({ measurement: null, preparing: null, lost: false });
  useEffect(() => {
    const source = new EventSource(`/api/measurements/${id}/events`);
    source.addEventListener("snapshot", (event) => {
      const measurement = JSON.parse((event as MessageEvent<string>).data) as Measurement;
      setLive({ measurement, preparing: null, lost: false });
      if (ENDED.includes(measurement.status)) source.close();
    });
    source.addEventListener("progress", (event) => {
      const told = JSON.parse((event as MessageEvent<string>).data) as Progress;
      setLive((was) => advance(was, told));
      if (told.event === "ended") {
        source.close();
        onEnded();
      }
    });
    source.addEventListener("error", () => setLive((was) => ({ ...was, lost: true })));
    return () => source.close();
    // The follower lives as long as the measurement it follows.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id]);
  return live;
}
