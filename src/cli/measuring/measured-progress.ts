import { formatRate, formatSeconds } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import type { EngineEvent } from "@/core/run/protocol";
import type { ProgressLine } from "../progress-line";

/** How far a drill is, in words, as the engine tells it. */
export class MeasuredProgress {
  private step = "";
  private bytes = 0;
  private begun = 0;
  private seconds: number | null = null;

  constructor(
    private readonly repeats: number,
    private readonly line: ProgressLine,
  ) {}

  hear(event: EngineEvent): void {
    if (event.event === "preparing") {
      const { bytes, total } = event;
      this.line.say(`preparing: ${formatSize(bytes)} of ${formatSize(total)}`, "preparing");
    } else if (event.event === "step") {
      const { repeat, step, of, label } = event;
      this.step = [
        ...(this.repeats > 1 ? [`repeat ${repeat + 1} of ${this.repeats}`] : []),
        ...(of > 1 ? [`step ${step + 1} of ${of}`] : []),
        ...(label.name ? [label.name] : []),
      ].join(", ");
      this.seconds = event.seconds;
      this.bytes = 0;
      this.begun = -1;
      if (event.doing === "rest") {
        this.line.say(`${this.step}: resting ${event.seconds} s`, `rest ${repeat} ${step}`);
      } else if (this.step) this.line.say(this.step, `step ${repeat} ${step}`);
    } else if (event.event === "sample") {
      if (this.begun < 0) this.begun = event.from;
      this.bytes += event.bytes;
      const into = (event.ms - this.begun) / 1e3;
      const rate = event.ms > event.from ? event.bytes / 1e3 / (event.ms - event.from) : 0;
      const of = this.seconds === null ? "" : ` of ${formatSeconds(this.seconds)}`;
      const head = this.step ? `${this.step}: ` : "";
      this.line.say(
        `${head}${into.toFixed(1)} s${of}, ${formatSize(this.bytes, 1000)}, ${formatRate(rate)} MB/s`,
        `measuring ${this.step}`,
      );
    }
  }
}
