import type { SeenDrive } from "@/core/system/drive";
import { listDrives, pluggedState } from "./drives";

/** How often the kernel's own list is looked at while somebody follows. */
const EVERY_MS = 1000;

/**
 * Tells what is plugged in, at once and whenever that changes, for as long as somebody follows; while
 * nobody does, nothing is looked at.
 */
export class Plugged {
  private readonly followers = new Set<(drives: SeenDrive[]) => void>();
  private timer: NodeJS.Timeout | null = null;
  private state = "";
  private drives: SeenDrive[] | null = null;
  private looking = false;

  constructor(private readonly root: string) {}

  /** @returns ends the following */
  follow(follower: (drives: SeenDrive[]) => void): () => void {
    this.followers.add(follower);
    if (this.drives && this.timer) follower(this.drives);
    else {
      // A look that outlived its last follower may have left a state, which this one was not told.
      this.state = "";
      void this.look();
    }
    this.timer ??= setInterval(() => void this.look(), EVERY_MS).unref();
    return () => {
      this.followers.delete(follower);
      if (this.followers.size > 0 || !this.timer) return;
      clearInterval(this.timer);
      this.timer = null;
      this.drives = null;
      this.state = "";
    };
  }

  /** Looks again; one look at a time. */
  private async look(): Promise<void> {
    if (this.looking) return;
    this.looking = true;
    let drives: SeenDrive[];
    try {
      const state = await pluggedState(this.root);
      if (state === this.state) return;
      drives = await listDrives(this.root);
      // What changed meanwhile is found at the next look.
      this.state = state;
      this.drives = drives;
    } catch {
      // What vanishes in mid-look is found at the next one.
      return;
    } finally {
      // Before anybody is told: who follows anew when told is told by a look of its own.
      this.looking = false;
    }
    for (const follower of this.followers) follower(drives);
  }
}
