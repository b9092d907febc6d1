import { describe, expect, it } from "vitest";
import { defineFrom, programOf } from "../drills/drill";
import { EngineEvent, type Job } from "../run/protocol";
import { orderOfJob } from "./job-order";
import { ProgramEvents } from "./program-events";
import { runsOfLines } from "./lines-file";
import { RunsFile } from "./runs-file";
import { toldByProgram } from "../testing/told-by-program";

const drill = defineFrom({ name: "haul", direction: "read", repeats: 2, seconds: 1 }, null);
const program = programOf(drill);
const lines = toldByProgram(drill, 2);

describe("the small program, heard line by line", () => {
  const heard = new ProgramEvents(program);
  const events = lines.flatMap((line) => heard.take(line));

  it("tells what the measuring process would tell, in the same order", () => {
    for (const event of events) expect(EngineEvent.parse(event)).toEqual(event);
    const kinds = events.map(({ event }) => event).filter((kind) => kind !== "sample");
    const run = ["started", "step", "stepped", "finished"];
    expect(kinds).toEqual(["conditions", ...run, ...run, "done"]);
  });

  it("comes to the same figures as its file", () => {
    const text = lines.map((line) => JSON.stringify(line)).join("\n");
    const { runs } = RunsFile.parse(runsOfLines(text)).measurements[0]!;
    const steps = events.flatMap((event) => (event.event === "stepped" ? [event.result] : []));
    expect(steps).toEqual(runs.flatMap((run) => run.steps));
    expect(steps[0]!.meanMBps).toBeGreaterThan(0);
  });

  it("is refused where it fails before it began, and has failed afterwards", () => {
    const failed = { event: "ended", status: "failed", reason: "no room" };
    expect(new ProgramEvents(null).take(failed)).toEqual([
      { event: "refused", code: "program", reason: "no room" },
    ]);
    const begun = new ProgramEvents(null);
    begun.take(lines.find(({ event }) => event === "conditions"));
    expect(begun.take(failed)).toEqual([{ event: "failed", reason: "no room" }]);
    for (const noise of [null, 3, "Welcome", { event: "sample" }, { format: "nerrit-lines" }])
      expect(begun.take(noise)).toEqual([]);
  });
});

describe("a job as an order of the small program", () => {
  const job = (name: string, targets: string[], direction = "read"): Job => {
    const asked = defineFrom({ name, direction, repeats: 3 }, null);
    const steps = programOf(asked, targets.length);
    const rest = { io: "direct" as const, reserve: 5, keepOff: null, nerrit: "", recordings: {} };
    return { targets, program: steps, repeats: 3, ...rest };
  };

  it("holds the steps, and names the other end of a copy", () => {
    const { text, target, other } = orderOfJob(job("ferry", ["/drive", "/own"], "write"));
    expect(JSON.parse(text)).toMatchObject({ format: "nerrit-order", io: "direct", reserve: 5 });
    expect(JSON.parse(text).measurements[0].drill).toEqual({ repeats: 3 });
    expect({ target, other }).toEqual({ target: "/drive", other: { way: "from", path: "/own" } });
    expect(orderOfJob(job("ferry", ["/drive", "/own"])).other).toMatchObject({ way: "to" });
    expect(orderOfJob(job("haul", ["/drive"])).other).toBeNull();
  });

  it("is none of several drives", () => {
    expect(() => orderOfJob(job("convoy", ["/a", "/b"]))).toThrow(/several drives/);
  });
});
