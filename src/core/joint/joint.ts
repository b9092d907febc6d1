import type { EngineEvent, SampleEvent } from "../run/protocol";
import type { Conditions, ErrorCount, Sample, StepResult } from "../run/result";
import type { Flow } from "../run/program";
import { placeText } from "../units/place";
import type { Part } from "./parts";
import { jointResult } from "./figures";

type Told<E extends EngineEvent["event"]> = Extract<EngineEvent, { event: E }>;
/** What stands at a moment of the run. */
type Timed = Told<"sample" | "reading" | "happened">;

/** What is known of a part. */
interface State {
  conditions: Conditions | null;
  preparing: { bytes: number; total: number };
  /** The repeat that it waits to begin; -1 before it waits at all. */
  waitsFor: number;
  /** When its clock began, by ours; null before the repeat began. */
  zero: number | null;
  /** Until when it has told everything, by its own clock. */
  until: number;
  held: Timed[];
  result: StepResult | null;
  errors: ErrorCount[] | null;
}

/**
 * A run on several machines as one: hears what each part tells, and tells what a single measuring process would, in
 * order of time. What comes late holds back what is later.
 */
export class Joint {
  private readonly states: State[];
  private repeat = -1;
  /** When the parts were told to begin. */
  private begunAt = 0;
  /** When the whole began, by our clock; null before all parts have. */
  private zero: number | null = null;
  private samples: Sample[] = [];

  /** @param step the whole flow, over the targets of all parts */
  constructor(
    private readonly parts: readonly Part[],
    private readonly step: Flow,
  ) {
    this.states = parts.map(() => ({
      conditions: null,
      preparing: { bytes: 0, total: 0 },
      waitsFor: -1,
      ...fresh(),
    }));
  }

  /** The repeat that all parts wait to begin; null where there is none. */
  get toBegin(): number | null {
    const next = this.repeat + 1;
    return this.states.every(({ waitsFor }) => waitsFor === next) ? next : null;
  }

  /** They are told to begin. @param at milliseconds on our clock */
  begin(at: number): void {
    this.repeat += 1;
    this.begunAt = at;
    this.zero = null;
    this.samples = [];
    for (const state of this.states) Object.assign(state, fresh());
  }

  /**
   * @param part its number
   * @param at when that was heard, milliseconds on our clock
   * @returns what the whole tells of it
   */
  hear(part: number, event: EngineEvent, at: number): EngineEvent[] {
    const state = this.states[part]!;
    switch (event.event) {
      case "conditions":
        state.conditions = event.conditions;
        return this.all(({ conditions }) => conditions) ? [this.conditions()] : [];
      case "preparing":
        state.preparing = { bytes: event.bytes, total: event.total };
        return [this.preparing()];
      case "waiting":
        state.waitsFor = event.repeat;
        return [];
      case "started":
        state.zero = this.zeroOf(state, event, at);
        return this.all(({ zero }) => zero !== null) ? this.started() : [];
      case "sample":
      case "reading":
      case "happened":
        return this.hold(part, event);
      case "stepped":
        state.result = event.result;
        state.until = Infinity;
        return [...this.passed(), ...this.stepped()];
      case "finished":
        state.errors = this.named(part, event.errors);
        return this.all(({ errors }) => errors) ? [this.finished()] : [];
      default:
        return [];
    }
  }

  /** What is still held back once no part tells anything any more. */
  rest(): EngineEvent[] {
    for (const state of this.states) state.until = Infinity;
    return this.passed();
  }

  private all = (is: (state: State) => unknown): boolean => this.states.every(is);

  private conditions(): Told<"conditions"> {
    const [first, ...others] = this.states.map(({ conditions }) => conditions!);
    const also = others.map(({ target, device, fileSystem, host }, i) => {
      const on = [device, fileSystem].filter(Boolean).join(", ");
      const place = placeText({ host: this.parts[i + 1]!.host, path: target });
      return `Also on ${place}${on ? ` (${on})` : ""}, measured by ${host}.`;
    });
    return { event: "conditions", conditions: { ...first!, notes: [...first!.notes, ...also] } };
  }

  private preparing(): Told<"preparing"> {
    const sum = (what: "bytes" | "total") =>
      this.states.reduce((all, { preparing }) => all + preparing[what], 0);
    return { event: "preparing", bytes: sum("bytes"), total: sum("total") };
  }

  /**
   * When a part's clock began, by ours: by what its machine says and how far that is ahead, but never before the part
   * was told to begin nor after that was heard. So a clock that is wrong by more than it was thought to be moves nothing.
   */
  private zeroOf({ conditions }: State, { at: said }: Told<"started">, heard: number): number {
    const ahead = conditions?.clock?.aheadMs ?? 0;
    return Math.min(Math.max(Date.parse(said) - ahead, this.begunAt), heard);
  }

  private started(): EngineEvent[] {
    this.zero = Math.min(...this.states.map(({ zero }) => zero!));
    const { repeat, step } = this;
    const last = this.parts.flatMap(({ targets }) => targets).length - 1;
    return [
      { event: "started", repeat, at: new Date(this.zero).toISOString() },
      {
        event: "step",
        repeat,
        step: 0,
        of: 1,
        label: step.label,
        doing: "flow",
        seconds: step.seconds === null ? null : step.seconds + last * step.everySeconds,
        bytes: null,
      },
      ...this.passed(),
    ];
  }

  private hold(part: number, event: Timed): EngineEvent[] {
    const state = this.states[part]!;
    // The processor and the sensors that are shown are those of the machine that stands first.
    if (event.event !== "reading" || part === 0) state.held.push(event);
    state.until = Math.max(state.until, momentOf(event));
    return this.passed();
  }

  /** What lies before the moment until which all parts have told everything, in order. */
  private passed(): EngineEvent[] {
    if (this.zero === null) return [];
    const shift = ({ zero }: State) => (zero ?? this.zero!) - this.zero!;
    const limit = Math.min(...this.states.map((state) => state.until + shift(state)));
    const free = this.states.flatMap((state, part) => {
      const own = state.held.map((event) => this.placed(part, event, shift(state)));
      const first = own.findIndex((event) => momentOf(event) > limit);
      const count = first < 0 ? own.length : first;
      state.held.splice(0, count);
      return own.slice(0, count);
    });
    free.sort((a, b) => momentOf(a) - momentOf(b));
    for (const event of free) if (event.event === "sample") this.samples.push(sampleOf(event));
    return free;
  }

  /** Something that a part told, at its moment and with the names of the whole. */
  private placed(part: number, event: Timed, shift: number): Timed {
    const { repeat } = this;
    const { targets } = this.parts[part]!;
    if (event.event === "sample")
      return {
        ...event,
        repeat,
        from: event.from + shift,
        ms: event.ms + shift,
        target: targets[event.target] ?? 0,
      };
    if (event.event === "reading")
      return { ...event, repeat, reading: { ...event.reading, ms: event.reading.ms + shift } };
    const { what } = event;
    const text = `${this.nameOf(part)}: ${what.text}`;
    return { ...event, repeat, what: { ...what, ms: what.ms + shift, text } };
  }

  private stepped(): EngineEvent[] {
    const results = this.states.flatMap(({ result }) => result ?? []);
    if (results.length < this.states.length) return [];
    const result = jointResult(this.step, this.samples, results);
    return [{ event: "stepped", repeat: this.repeat, step: 0, result }];
  }

  private finished(): Told<"finished"> {
    const errors = this.states.flatMap((state) => state.errors!);
    return { event: "finished", repeat: this.repeat, errors };
  }

  /** How a part's machine is called. */
  nameOf = (part: number): string => this.parts[part]!.host ?? "this machine";

  private named = (part: number, errors: readonly ErrorCount[]): ErrorCount[] =>
    errors.map((error) => ({ ...error, from: `${this.nameOf(part)}: ${error.from}` }));
}

const fresh = (): Pick<State, "zero" | "until" | "held" | "result" | "errors"> => ({
  zero: null,
  until: -Infinity,
  held: [],
  result: null,
  errors: null,
});

const momentOf = (event: Timed): number =>
  event.event === "sample"
    ? event.ms
    : event.event === "reading"
      ? event.reading.ms
      : event.what.ms;

function sampleOf(event: SampleEvent): Sample {
  const { event: _event, repeat: _repeat, ...sample } = event;
  return sample;
}
