import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { nerrit, nerritAt } from "../support/command";
import { makeFaulty, whyNoFaults, type FaultyDirectory } from "../support/faulty-fs";
import { LONG } from "../support/long";
import { asked, documentOf, UNDER_WAY } from "../support/mid-run";

/** Drives that do not answer: nobody waits for them for ever, and what was measured until then is kept. */

const faults = whyNoFaults();
if (faults) console.warn(`skipped: drives that do not answer (${faults})`);

describe.skipIf(faults)("on a file system that falls silent", () => {
  let faulty: FaultyDirectory;
  beforeEach(async () => {
    faulty = await makeFaulty();
  });
  afterEach(() => faulty.remove());

  /** `npm run soak` asks for a minute. */
  const silence = Number(process.env.NERRIT_SILENCE_SECONDS ?? 6);
  it("a drive that stops answering for a while, and comes back", LONG, async () => {
    const seconds = silence + 6;
    const finished = await nerritAt(asked(faulty.directory, "write", seconds), UNDER_WAY, () => {
      faulty.commit("hang");
      setTimeout(() => faulty.commit(), silence * 1000);
    });
    expect(finished.stderr).not.toMatch(/^nerrit:/m);
    expect(finished.status).toBe(0);
    const { events, samples, meanMBps } = documentOf(finished);
    // A busy machine may have stood still besides.
    const stalls = events.filter(({ kind }) => kind === "stalled");
    const lengths = stalls.map(({ text }) => Number(/([\d.]+) s/.exec(text)![1]));
    expect(Math.max(...lengths)).toBeGreaterThan(silence - 2);
    expect(samples.at(-1)!.ms).toBeGreaterThan(seconds * 1000 - 100);
    expect(meanMBps).toBeGreaterThan(0);
  });

  it("a drive that stops answering for good", LONG, async () => {
    const finished = await nerritAt(asked(faulty.directory, "write", 10), UNDER_WAY, () =>
      faulty.commit("hang"),
    );
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/did not answer/);
    expect(documentOf(finished).samples.length).toBeGreaterThan(1);
  });

  it("a drive that never answers, which is stopped", LONG, async () => {
    faulty.commit("hang");
    const finished = await nerritAt(asked(faulty.directory, "read", 5), /preparing/, (pid) =>
      process.kill(pid, "SIGINT"),
    );
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/Stopped, but .* did not answer/);
  });

  it("a drive that answers nothing at all, which is said before the run begins", async () => {
    faulty.freeze(true);
    const finished = await nerrit(asked(faulty.directory, "read", 5));
    faulty.freeze(false);
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/has not answered for 10 s/);
    expect(finished.stdout).toBe("");
  });

  it("a drive so slow that nothing comes", LONG, async () => {
    faulty.commit("slow 30000000");
    const finished = await nerrit([
      "measure",
      "--target",
      faulty.directory,
      "--drill",
      "long-fill",
      "--size",
      "8MiB",
      "--seconds",
      "1",
      "--reserve",
      "0B",
      "--json",
    ]);
    faulty.commit();
    expect(finished.status).toBe(1);
    expect(finished.stderr).toMatch(/Not one request was answered/);
  });
});
