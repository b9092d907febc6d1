/** What its option does, for the help. */
export const PROGRESS =
  "say how far it is, a line a second on standard error, also where that is no terminal";

/**
 * Says on standard error how far something is. On a terminal one line overwrites itself. Elsewhere nothing
 * is said unless it is asked for; then each stage is a line of its own, and within one stage a line a second.
 */
export class ProgressLine {
  private readonly terminal = process.stderr.isTTY === true;
  private stage = "";
  private saidAt = -Infinity;

  /** @param asked lines also where standard error is no terminal (`--progress`) */
  constructor(private readonly asked: boolean) {}

  /** @param stage of what the text speaks; a new one is said at once */
  say(text: string, stage: string): void {
    if (this.terminal) {
      process.stderr.write(`\r\u001b[K${text.slice(0, 79)}`);
      return;
    }
    if (!this.asked) return;
    const now = performance.now();
    if (stage === this.stage && now - this.saidAt < 1000) return;
    this.stage = stage;
    this.saidAt = now;
    process.stderr.write(`${text}\n`);
  }

  /** Leaves a terminal's line empty for what follows. */
  clear(): void {
    if (this.terminal) process.stderr.write("\r\u001b[K");
  }
}
