"use client";

import { useEffect, useMemo, useRef, useState } from "react";
import type { OpenTrace } from "@/core/study/open-trace";
import type { RateUnit } from "@/core/units/rate";
import { formatDuration } from "@/core/units/number";
import { Button, Trouble } from "../controls/form";
import { Dialog } from "../controls/dialog";
import { Progress } from "../controls/progress";
import { Toggle } from "../controls/toggle";
import { coloursOf } from "../out/slide-colours";
import { savedName, saveFile } from "../out/save";
import { courseOf, MOST_RUNS } from "./clip";
import { CLIP, drawFrame, type ClipLook } from "./clip-frame";

/** Frames a second. */
const RATE = 30;

/** Traces as a short clip that draws itself: played while it is recorded, in this browser. */
export function ClipDialog({
  traces,
  names,
  unit,
  title,
  onClose,
}: {
  traces: readonly OpenTrace[];
  names: readonly string[];
  unit: RateUnit;
  title: string;
  onClose: () => void;
}) {
  const [theme, setTheme] = useState<"light" | "dark">("light");
  const [played, setPlayed] = useState<number | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [canvas, setCanvas] = useState<HTMLCanvasElement | null>(null);
  const stop = useRef<(() => void) | null>(null);
  const look = useMemo((): ClipLook => {
    const runs = traces.slice(0, MOST_RUNS).map((trace, i) => ({ trace, name: names[i]! }));
    const simulated = traces.every(({ origin }) => origin === "simulated");
    return { runs, course: courseOf(runs), colours: coloursOf(theme), unit, title, simulated };
  }, [traces, names, unit, title, theme]);
  const { course } = look;
  useEffect(() => {
    const context = canvas?.getContext("2d");
    if (context && played === null) drawFrame(context, look, course.seconds);
  }, [canvas, look, course, played]);
  useEffect(() => () => stop.current?.(), []);

  function record() {
    const element = canvas!;
    const context = element.getContext("2d")!;
    if (typeof MediaRecorder === "undefined" || !MediaRecorder.isTypeSupported("video/webm"))
      return setTrouble("This browser records no WebM. Use another one, or save the picture.");
    setTrouble(null);
    const recorder = new MediaRecorder(element.captureStream(RATE), {
      mimeType: "video/webm",
      videoBitsPerSecond: 6e6,
    });
    const pieces: Blob[] = [];
    let whole = false;
    recorder.ondataavailable = ({ data }) => pieces.push(data);
    recorder.onstop = () => {
      setPlayed(null);
      if (whole) saveFile(`${savedName(title)}.webm`, new Blob(pieces, { type: "video/webm" }));
    };
    recorder.start(500);
    const begun = performance.now();
    let frame = 0;
    const next = () => {
      const seconds = (performance.now() - begun) / 1e3;
      drawFrame(context, look, Math.min(course.seconds, seconds * course.speed));
      setPlayed(seconds);
      if (seconds < course.plays) return void (frame = requestAnimationFrame(next));
      whole = true;
      recorder.stop();
    };
    stop.current = () => {
      cancelAnimationFrame(frame);
      if (recorder.state !== "inactive") recorder.stop();
    };
    next();
  }

  return (
    <Dialog title="Trace as a clip" wide open onOpenChange={(open) => !open && onClose()}>
      <canvas
        ref={setCanvas}
        width={CLIP.width}
        height={CLIP.height}
        role="img"
        aria-label={`${title}, drawn over time`}
        className="w-full border border-line"
      />
      {trouble && <Trouble>{trouble}</Trouble>}
      {played !== null && (
        <Progress
          label="Clip recorded"
          value={Math.min(played, course.plays)}
          most={course.plays}
        />
      )}
      <div className="mt-3 flex flex-wrap items-center gap-4">
        <Toggle
          label="Ground"
          value={theme}
          options={[
            { value: "light", text: "light" },
            { value: "dark", text: "dark" },
          ]}
          onChange={setTheme}
        />
        <span className="mr-auto text-sm text-secondary">
          {formatDuration(course.seconds * 1e3)} in {formatDuration(course.plays * 1e3)}, WebM, 1280
          × 720
          {traces.length > MOST_RUNS && `; the first ${MOST_RUNS} runs`}
        </span>
        {played === null ? (
          <Button main onClick={record}>
            Record and save the clip
          </Button>
        ) : (
          <Button onClick={() => stop.current?.()}>Stop recording</Button>
        )}
      </div>
    </Dialog>
  );
}
