import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { createInterface } from "node:readline";
import type { Command } from "commander";
import { openPlanRoom, type PlanRoom } from "@/services/plans/plan-file";
import { measurementsOf } from "@/services/studies/studies";
import { titleOf } from "@/core/drills/drill";
import { EXAMPLE_PLAN, PlanFile } from "@/core/exchange/plan-file";
import { formatClock } from "@/core/units/day";
import { fillingWords, levelWords } from "@/core/plan/fill-levels";
import { atOnceWords } from "@/core/plan/hands";
import { isOver, type PlanState } from "@/core/plan/plan";
import type { PlanView } from "@/core/plan/view";
import { observationsOf, type BriefMeasurement } from "@/core/study/measurement";
import { counted } from "@/core/units/counted";
import { formatAbout, formatRate } from "@/core/units/number";
import { plainWords } from "@/core/units/plain-words";
import packageJson from "../../../package.json";
import { Failure, printJson, Usage } from "../exit";
import { table, wrapped } from "../lines";
import { checkOut, checkWritable } from "../measuring/out-file";
import { folderFor, RunsKept } from "./plan-out";

interface Options {
  out?: string;
  root?: string;
  json?: boolean;
  example?: boolean;
}

/** `nerrit plan`: works through a plan, and asks for hands where parts have to be swapped. */
export function addPlan(program: Command): void {
  program
    .command("plan")
    .description(
      "work through a plan: rigs, drills and repeats, with hands where parts are swapped",
    )
    .argument("[file]", "the plan, JSON (--example prints one)")
    .option("--out <file>", "keep the runs with every sample, for the pages to import")
    .option("--root <directory>", "read the kernel's tree (sys, proc) below this directory", "/")
    .option("--example", "print a plan to begin with")
    .option("--json", "print one JSON document at the end")
    .addHelpText(
      "after",
      "\nWhile it runs: Enter goes on, p pauses, s leaves the run out, q ends the plan.",
    )
    .action(plan);
}

/** Reads a plan's file. @throws Usage that says what makes no sense, and where */
function readPlan(file: string): PlanFile {
  let text: string;
  try {
    text = fs.readFileSync(file, "utf8");
  } catch (error) {
    throw new Usage(`${file} cannot be read: ${(error as Error).message}`);
  }
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch (error) {
    throw new Usage(`${file} is no JSON: ${(error as Error).message}`);
  }
  const parsed = PlanFile.safeParse(read, { error: plainWords });
  if (parsed.success) return parsed.data;
  const lines = parsed.error.issues.map(({ path: at, message }) =>
    [at.map((step) => (typeof step === "number" ? step + 1 : String(step))).join(" "), message]
      .filter(Boolean)
      .join(": "),
  );
  throw new Usage(`${file}: ${lines.join("; ")}`);
}

async function plan(file: string | undefined, options: Options): Promise<void> {
  if (options.example) return printJson(EXAMPLE_PLAN);
  if (file === undefined) throw new Usage("name the plan's file; --example prints one");
  const asked = readPlan(file);
  const { out } = options;
  const folder = out === undefined ? temporary() : folderFor(asked, out);
  if (out !== undefined) {
    if (!fs.existsSync(folder)) checkOut(out);
    else checkWritable(out);
  }
  const program = path.resolve(import.meta.dirname, "..");
  const root = path.resolve(options.root ?? "/");
  // Where the terminal is gone, what it would be told is lost, and nothing else.
  for (const stream of [process.stdout, process.stderr]) stream.on("error", () => undefined);
  let room: PlanRoom | null = null;
  let isWritten = false;
  try {
    room = await openPlanRoom(asked, folder, program, packageJson.version, root).catch((error) => {
      throw new Usage(`${file}: ${(error as Error).message}`);
    });
    const keep = new RunsKept(room, out ?? null);
    const last = await workThrough(room, () => keep.write());
    await room.settle();
    const { state } = room.planner.view(room.planId);
    if ("left" in state && state.left) process.stderr.write(`${state.left}\n`);
    const measurements = measurementsOf(room.store, room.studyId).toReversed();
    tell(last, measurements, options.json === true);
    keep.write();
    if (keep.trouble)
      throw new Failure(
        `${keep.trouble}. What was measured is kept in ${folder}: the same command goes on there`,
      );
    isWritten = out === undefined || last.state.kind === "done";
    if (last.state.kind !== "done") {
      const left = out === undefined ? "" : "; the same command goes on with what is left";
      throw new Failure(
        last.state.kind === "paused" && last.state.why
          ? `the plan did not come to its end: ${last.state.why}${left}`
          : `the plan was ended before its end; what had been measured is above${left}`,
      );
    }
  } finally {
    await room?.settle();
    const isEmpty = room === null || measurementsOf(room.store, room.studyId).length === 0;
    room?.close();
    // Never before all that was measured stands in the file.
    if (isWritten || isEmpty || out === undefined)
      fs.rmSync(folder, { recursive: true, force: true });
  }
}

const temporary = () => fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-plan-"));

/** Follows a plan to its end. @param ended called whenever a run ended @returns how it stands then */
function workThrough({ planner, planId, resumed }: PlanRoom, ended: () => void): Promise<PlanView> {
  return new Promise((resolve) => {
    const lines = createInterface({ input: process.stdin });
    const someone = process.stdin.isTTY === true;
    let said = "";
    let begun = false;
    let seen = 0;
    // While it waits for hands nothing else keeps the program alive.
    const alive = setInterval(() => undefined, 60_000);
    const end = (view: PlanView) => {
      clearInterval(alive);
      leave();
      lines.close();
      process.stdin.unref?.();
      process.off("SIGINT", abort);
      process.off("SIGTERM", abort);
      process.off("SIGHUP", abort);
      resolve(view);
    };
    const abort = () => planner.abort(planId);
    const leave = planner.follow(planId, (view) => {
      if (!begun) return;
      const over = view.steps.filter(({ state }) => state === "done" || state === "failed").length;
      if (over > seen) ended();
      seen = over;
      const words = wordsFor(view, said !== "");
      if (words && words !== said) process.stderr.write(`${words}\n`);
      said = words || said;
      // Where nobody is there to say that it shall go on, it does not.
      const stuck = view.state.kind === "paused" && view.state.why !== null && !someone;
      if (isOver(view.state) || stuck) setImmediate(end, view);
    });
    lines.on("line", (line) => answer(planner, planner.view(planId), line.trim().toLowerCase()));
    process.on("SIGINT", abort);
    process.on("SIGTERM", abort);
    process.on("SIGHUP", abort);
    const { steps, words, secondsLeft } = planner.view(planId);
    seen = steps.filter(({ state }) => state === "done").length;
    if (resumed)
      process.stderr.write(
        `goes on: ${seen} of ${counted(steps.length, "run")} were done before\n`,
      );
    process.stderr.write(
      `${counted(steps.length, "run")}, about ${formatAbout(secondsLeft)}. ${words}\n`,
    );
    // Of a plan whose runs were all done before, the end comes at once.
    begun = true;
    planner.go(planId);
  });
}

/** Does what was typed while a plan runs. */
function answer(planner: PlanRoom["planner"], { id, state, steps }: PlanView, typed: string): void {
  if (isOver(state)) return;
  if (typed === "q") planner.abort(id);
  else if (typed === "s") {
    const next = steps.find(({ state: of }) => of === "running" || of === "waiting");
    if (next) planner.skip(id, next.id);
  } else if (typed === "p" && state.kind !== "paused") planner.pause(id);
  else planner.go(id);
}

/** How a plan stands, in a line or a few; nothing where that is not worth one. */
function wordsFor({ state, steps, plan }: PlanView, begun: boolean): string {
  const { drills, repeats, rigs } = plan;
  const at = state.kind === "running" ? steps.findIndex(({ id }) => id === state.stepId) : -1;
  switch (state.kind) {
    case "running": {
      const step = steps[at];
      if (step?.state !== "running") return "";
      const drill = drills[step.drill]!;
      const which = step.warmUp ? "to warm up" : `repeat ${step.repeat + 1} of ${repeats}`;
      const { target } = rigs.find(({ rigId }) => rigId === step.rigId)!;
      const what = `${titleOf(drill)}, ${drill.direction}${levelWords(plan, step.drill)}`;
      return `${at + 1} of ${steps.length}: ${what}, ${which}, at ${target}`;
    }
    case "hands":
      return handsFor(state);
    case "resting":
      return `resting ${state.why} until ${formatClock(state.until)} (Enter goes on at once)`;
    case "cooling":
      return `cooling: ${state.celsius} °C, waits for less than ${state.below} °C (Enter goes on)`;
    case "filling":
      return fillingWords(state);
    case "looking":
      return "";
    case "paused":
      if (!begun) return "";
      return state.why
        ? `waits: ${state.why} (Enter goes on, q ends the plan)`
        : "paused (Enter goes on)";
    case "done":
      return "done";
    case "aborted":
      return "ended";
  }
}

function handsFor({ words, differs, atOnce }: Extract<PlanState, { kind: "hands" }>): string {
  const head = [
    `\u0007HANDS: ${words.replaceAll("\n", "; ")}.`,
    ...(atOnce ? [atOnceWords(atOnce)] : []),
  ];
  if (differs.length === 0) {
    return [...head, "It goes on as soon as the system sees it there; Enter goes on at once."].join(
      "\n",
    );
  }
  return [
    ...head,
    "Something is plugged in, but it is not that rig:",
    ...differs.flatMap((text) => wrapped(text, 2)),
    "Enter measures it all the same.",
  ].join("\n");
}

/** What was measured, rig by rig and drill by drill. */
function tell(view: PlanView, measurements: readonly BriefMeasurement[], json: boolean): void {
  const seen = observationsOf(measurements);
  if (json) {
    printJson({
      state: view.state.kind,
      why: view.state.kind === "paused" ? view.state.why : null,
      order: view.words,
      results: seen.map(({ rig, drill, repeats, cautions }) => ({
        rig: rig.name,
        drill,
        n: repeats.n,
        medianMBps: repeats.median,
        spread: repeats.spread,
        intervalMBps: repeats.interval,
        values: repeats.values,
        cautions,
      })),
      steps: view.steps.map(({ state, warmUp, repeat, drill, note }) => ({
        drill: view.plan.drills[drill]!.name,
        repeat,
        warmUp,
        state,
        note,
      })),
    });
    return;
  }
  const rows = seen.map(({ rig, drill, repeats }) => [
    rig.name,
    `${titleOf(drill)}, ${drill.direction}`,
    formatRate(repeats.median),
    repeats.interval
      ? `${formatRate(repeats.interval.low)}–${formatRate(repeats.interval.high)}`
      : "",
    String(repeats.n),
  ]);
  if (rows.length === 0) return;
  const head = ["rig", "drill", "median MB/s", "95 % interval", "n"];
  process.stdout.write(`${table(head, rows).join("\n")}\n`);
}
