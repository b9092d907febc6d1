/** Holds the repeats of a run back until each is let begin; what is to stop is held back no longer. */
export class Gate {
  private opened = -1;
  private held = new Set<() => void>();

  constructor(private readonly stop: AbortSignal) {
    stop.addEventListener("abort", () => this.look(), { once: true });
  }

  /** Lets a repeat begin, and all before it. */
  open(repeat: number): void {
    this.opened = Math.max(this.opened, repeat);
    this.look();
  }

  /** Waits until a repeat may begin, or is to stop. */
  mayBegin(repeat: number): Promise<void> {
    return new Promise((resolve) => {
      const look = () => {
        if (this.opened < repeat && !this.stop.aborted) return;
        this.held.delete(look);
        resolve();
      };
      this.held.add(look);
      look();
    });
  }

  private look(): void {
    for (const look of this.held) look();
  }
}
