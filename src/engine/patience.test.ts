import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { patiently } from "./patience";
import type { EngineEvent } from "@/core/run/protocol";

/** A run's drive that does not answer; the clock is set on by hand. */

const sample = (bytes: number, requests = bytes): EngineEvent => ({
  event: "sample",
  repeat: 0,
  from: 0,
  ms: 100,
  bytes,
  written: 0,
  requests,
  step: 0,
  target: 0,
});
const preparing = (bytes: number): EngineEvent => ({ event: "preparing", bytes, total: 100 });

describe("patiently", () => {
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => vi.useRealTimers());

  /** Work that tells what it is handed, and ends when it is let. */
  function begin(targets = ["/media/a"]) {
    const halt = new AbortController();
    const told: EngineEvent[] = [];
    let tell!: (event: EngineEvent) => void;
    let end!: (event: EngineEvent) => void;
    const outcome = patiently(
      targets,
      { tell: (event) => told.push(event), stop: halt.signal },
      (outside) => {
        tell = (event) => outside.tell(event);
        return new Promise((resolve) => (end = resolve));
      },
    ).then(
      (event) => event.event,
      (error: Error) => error.message,
    );
    const passed = async (seconds: number) => {
      await vi.advanceTimersByTimeAsync(seconds * 1000);
    };
    /** Tells the same every second, for so long. */
    const again = async (event: EngineEvent, seconds: number) => {
      for (let i = 0; i < seconds; i++) {
        tell(event);
        await passed(1);
      }
    };
    let over = false;
    void outcome.then(() => (over = true));
    const still = async () => {
      await passed(0);
      return !over;
    };
    return { halt, told, tell, end, outcome, passed, again, still };
  }

  it("passes on all that is told, and how it ended", async () => {
    const { told, tell, end, outcome } = begin();
    tell(preparing(3));
    tell(sample(5));
    end({ event: "done" });
    expect(await outcome).toBe("done");
    expect(told).toEqual([preparing(3), sample(5)]);
    expect(vi.getTimerCount()).toBe(0);
  });

  it("gives up a run that never opens", async () => {
    const { outcome, passed } = begin();
    await passed(201);
    expect(await outcome).toMatch(/\/media\/a did not answer while the run was opened/);
  });

  it.each([
    ["nothing comes", sample(0)],
    ["the scratch file does not grow", preparing(7)],
  ])("gives up where %s, time and again", async (_, event) => {
    const { tell, again, outcome } = begin();
    tell(preparing(7));
    await again(event, 203);
    expect(await outcome).toMatch(/did not answer requests/);
  });

  it.each([
    ["files without a byte in them are copied", sample(0, 3)],
    ["it is slow, but not silent", sample(1)],
  ])("waits where %s", async (_, event) => {
    const { again, still } = begin();
    await again(event, 1000);
    expect(await still()).toBe(true);
  });

  it("waits for a flush, or a rest, of which nothing is told", async () => {
    const { tell, passed, still } = begin();
    tell(sample(0));
    await passed(4000);
    tell(sample(0));
    tell(sample(8));
    expect(await still()).toBe(true);
  });

  it("counts anew after each answer", async () => {
    const { again, still } = begin();
    await again(sample(0), 150);
    await again(sample(1), 1);
    await again(sample(0), 150);
    expect(await still()).toBe(true);
  });

  it("does not wait long for a drive once it is to stop, and says of which", async () => {
    const { halt, tell, passed, outcome, still } = begin(["/media/a", "/media/b"]);
    tell(preparing(1));
    halt.abort();
    await passed(20);
    expect(await still()).toBe(true);
    await passed(6);
    expect(await outcome).toMatch(/^Stopped, but one of \/media\/a and \/media\/b/);
  });

  it("says stopped of a run that does stop", async () => {
    const { halt, end, outcome } = begin();
    halt.abort();
    end({ event: "stopped" });
    expect(await outcome).toBe("stopped");
    expect(vi.getTimerCount()).toBe(0);
  });
});
