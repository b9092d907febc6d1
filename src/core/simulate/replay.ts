import type { Recording } from "../recording/recording-file";
import { courseOf, type Answer, type Asked } from "../replay/course";
import { endOf, latenciesOf, outcomeOf, type Replayed } from "../replay/outcome";
import { KIND, READ, scheduleOf, WRITE } from "../replay/schedule";
import type { Replay } from "../run/program";
import type { StepResult } from "../run/result";
import { blankStep } from "../run/step";
import { SAMPLE_MS, type Disturbed, type SimulatedRig } from "./bench";

/** The recording with a digest; null where it is not here. */
export type RecordingWith = (sha256: string) => Pick<Recording, "requests" | "end"> | null;

/** The smallest request of a simulated drive, bytes: a page. */
const SMALLEST = 4096;
/** A link that gives nothing for so long does not come back: resets last some seconds. */
const PATIENCE_MS = 600_000;

/**
 * Does recordings again on the simulated bench, request by request.
 *
 * @param number of the step
 * @throws RangeError where a recording is not here, or nothing is answered any more
 */
export function simulateReplay(
  rig: SimulatedRig,
  step: Replay,
  number: number,
  recordings: RecordingWith,
): StepResult {
  const schedules = step.works.map(({ sha256, first, span }) => {
    const recording = recordings(sha256);
    if (!recording) throw new RangeError(`The recording of ${step.label.name} is not here.`);
    return scheduleOf(recording, step, { first, span, smallest: SMALLEST });
  });
  if (schedules.some(({ kinds }) => kinds.some((kind) => (kind & KIND) > WRITE)))
    rig.assumed.push({
      what: "flushes",
      value: "as long as in the recording",
      why: "no rate tells how long a drive takes for them",
    });
  const start = rig.now;
  const state = new Followed(rig);
  const { replayed } = courseOf(schedules, (asked) => state.answer(asked));
  const ms = Math.max(...replayed.map((work) => endOf(work, step)));
  state.follow(ms);
  const samples = samplesOf(replayed, ms);
  for (const one of samples)
    rig.samples.push({
      ...one,
      from: start + one.from,
      ms: start + one.ms,
      step: number,
      target: 0,
    });
  const sum = (pick: (sample: (typeof samples)[number]) => number) =>
    samples.reduce((total, sample) => total + pick(sample), 0);
  const bytes = sum((sample) => sample.bytes);
  return {
    ...blankStep("replay", step.label),
    meanMBps: ms > 0 ? bytes / 1e3 / ms : 0,
    bytes,
    written: sum(({ written }) => written),
    ms,
    requests: sum(({ requests }) => requests),
    ...latenciesOf(replayed),
    deviceBytes: bytes,
    processorUsPerRequest: rig.simulation.bench.processorUs,
    replay: outcomeOf(replayed, ms),
  };
}

/** A rig that is followed while single requests reach it. */
class Followed {
  /** Milliseconds since the replay's beginning, and how long requests that went until then keep the drive at work. */
  private now = 0;
  private owed = 0;
  /** Short idle times since the last request, milliseconds. */
  private gap = 0;
  private disturbed: Disturbed;
  private nextTick = SAMPLE_MS;
  private readonly ends = { read: -1, write: -1 };

  constructor(private readonly rig: SimulatedRig) {
    this.disturbed = rig.disturb(SAMPLE_MS / 1e3);
  }

  answer({ way, ms, bytes, place, depth }: Asked): Answer {
    this.follow(ms);
    const order = place === this.ends[way] ? "sequential" : "random";
    this.ends[way] = place + bytes;
    const position = this.rig.bays[0]!.drive.filledBytes + place;
    const answer = () =>
      answerOf(this.rig, way, { order, block: bytes, depth }, position, this.disturbed);
    // While the link is down nothing is answered; the drive has to do nothing then.
    let [found, waited] = [answer(), 0];
    for (; !Number.isFinite(found.laneUs); found = answer()) {
      if (waited >= PATIENCE_MS)
        throw new RangeError(`Nothing was answered for ${PATIENCE_MS / 60_000} minutes.`);
      waited += SAMPLE_MS;
      this.disturbed = this.rig.disturb(SAMPLE_MS / 1e3);
    }
    this.rig.answered(way, bytes, (found.laneUs + this.gap * 1e3) / 1e6);
    this.gap = 0;
    this.owed += found.laneUs / 1e3;
    this.tick();
    return { ...found, laneUs: found.laneUs + waited * 1e3 };
  }

  /** Goes on to a moment; where no request keeps it at work, the drive rests. */
  follow(ms: number): void {
    const idle = Math.max(0, ms - this.now - this.owed);
    this.owed = Math.max(0, this.owed - (ms - this.now));
    // A drive does not tidy up between two requests; it is less busy for that.
    if (idle >= SAMPLE_MS) this.rig.rest(idle / 1e3);
    else this.gap += idle;
    for (; this.now < ms; this.now = Math.min(ms, this.now + SAMPLE_MS))
      this.rig.advance(Math.min(SAMPLE_MS, ms - this.now));
    this.tick();
  }

  private tick(): void {
    for (; this.now + this.owed >= this.nextTick; this.nextTick += SAMPLE_MS)
      this.disturbed = this.rig.disturb(SAMPLE_MS / 1e3);
  }
}

/** How a single request is answered. Without a queue one passes after the other, whichever way it goes. */
function answerOf(
  rig: SimulatedRig,
  way: Asked["way"],
  request: { order: "sequential" | "random"; block: number; depth: number },
  position: number,
  disturbed: Disturbed,
): Answer {
  const { mbps, overheadUs, driveUs, meter } = rig.oneWay(0, way, request, position, disturbed);
  const bytesUs = request.block / mbps;
  if (!rig.isQueued)
    return { lane: "one at a time", laneUs: bytesUs + overheadUs + driveUs, besideUs: 0 };
  const { channels } = rig.bays[0]!.drive;
  const { processorUs } = rig.simulation.bench;
  const isSingle = channels === 1;
  return {
    // What works on one request at a time does so both ways.
    lane: isSingle ? "the drive" : way,
    laneUs: Math.max(
      isSingle ? driveUs + bytesUs : bytesUs,
      driveUs / channels,
      processorUs,
      request.block / meter.mbps,
      1e6 / meter.iops,
    ),
    besideUs: overheadUs + (isSingle ? 0 : driveUs),
  };
}

/** What was answered in each tenth of a second. */
function samplesOf(replayed: readonly Replayed[], ms: number) {
  const samples = Array.from({ length: Math.max(1, Math.ceil(ms / SAMPLE_MS)) }, (_, i) => ({
    from: i * SAMPLE_MS,
    ms: Math.min(ms, (i + 1) * SAMPLE_MS),
    bytes: 0,
    written: 0,
    requests: 0,
  }));
  for (const { schedule, to } of replayed)
    for (const [i, all] of schedule.kinds.entries()) {
      if ((all & KIND) > WRITE) continue;
      const sample = samples[Math.min(samples.length - 1, Math.floor(to[i]! / SAMPLE_MS))]!;
      sample.bytes += schedule.lengths[i]!;
      sample.written += (all & KIND) === READ ? 0 : schedule.lengths[i]!;
      sample.requests += 1;
    }
  return samples;
}
