import { formatDuration, ratesIn } from "@/core/units/number";
import { inUnit, type RateUnit } from "@/core/units/rate";
import type { Colours } from "../out/slide-colours";
import { pointsUntil, type ClipCourse, type ClipRun } from "./clip";

/** Pixels of a clip, 16:9. */
export const CLIP = { width: 1280, height: 720 };

/** Lines are told apart by their dashes, as in every picture of traces. */
const DASHES: readonly (readonly number[])[] = [[], [18, 10], [4, 8], [18, 8, 4, 8]];
const SANS = "'Barlow Semi Condensed', Arial, sans-serif";
const FIGURES = "'IBM Plex Mono', monospace";
const FRAME = { left: 150, right: 70, top: 170, bottom: 120 };

/** What all frames of a clip have in common. */
export interface ClipLook {
  runs: readonly ClipRun[];
  course: ClipCourse;
  colours: Colours;
  unit: RateUnit;
  title: string;
  /** Whether all of it is simulated. */
  simulated: boolean;
}

/** Draws one frame: the traces up to a time, each with its rate just then. @param at seconds of the runs */
export function drawFrame(context: CanvasRenderingContext2D, look: ClipLook, at: number): void {
  const { runs, course, colours, unit, title, simulated } = look;
  const { rate } = ratesIn(unit);
  const top = Math.max(
    1e-9,
    ...runs.flatMap((run) => pointsUntil(run, Infinity).map(({ mbps }) => inUnit(mbps, unit))),
  );
  const [width, height] = [
    CLIP.width - FRAME.left - FRAME.right,
    CLIP.height - FRAME.top - FRAME.bottom,
  ];
  const x = (seconds: number) => FRAME.left + (seconds / course.seconds) * width;
  const y = (value: number) => FRAME.top + (1 - value / (top * 1.08)) * height;
  const write = (text: string, px: number, left: number, line: number, font = SANS) => {
    context.font = `500 ${px}px ${font}`;
    context.fillText(text, left, line);
  };
  context.fillStyle = colours.paper;
  context.fillRect(0, 0, CLIP.width, CLIP.height);
  context.fillStyle = colours.ink;
  write(title, 40, 48, 66);
  context.fillStyle = colours.secondary;
  write(
    `${formatDuration(at * 1e3)} · ${course.speed} times as fast${simulated ? " · simulated" : ""} · made with Nerrit`,
    30,
    48,
    112,
  );
  context.strokeStyle = colours.line;
  context.setLineDash([]);
  context.lineWidth = 2;
  for (const share of [0, 0.5, 1]) {
    context.beginPath();
    context.moveTo(FRAME.left, y(top * share));
    context.lineTo(FRAME.left + width, y(top * share));
    context.stroke();
    const words = rate((top * share) / inUnit(1, unit));
    write(words, 28, FRAME.left - 16 - words.length * 17, y(top * share) + 10, FIGURES);
  }
  runs.forEach((run, i) => {
    const points = pointsUntil(run, at);
    context.strokeStyle = colours.flow;
    context.setLineDash([...DASHES[i % DASHES.length]!]);
    context.lineWidth = 5;
    context.beginPath();
    points.forEach(({ seconds, mbps }, k) => {
      const place = [x(seconds), y(inUnit(mbps, unit))] as const;
      if (k === 0) context.moveTo(...place);
      else context.lineTo(...place);
    });
    context.stroke();
    // The legend below has each run's line, name and rate just then.
    const each = width / runs.length;
    const left = FRAME.left + each * i;
    context.beginPath();
    context.moveTo(left, CLIP.height - 60);
    context.lineTo(left + 60, CLIP.height - 60);
    context.stroke();
    const last = points.at(-1);
    context.fillStyle = colours.ink;
    write(shortened(run.name, each / 15), 28, left + 74, CLIP.height - 66);
    write(last ? `${rate(last.mbps)} ${unit}` : "–", 28, left + 74, CLIP.height - 32, FIGURES);
  });
}

const shortened = (text: string, most: number): string =>
  text.length <= most ? text : `${text.slice(0, Math.max(1, Math.floor(most) - 1)).trimEnd()}…`;
