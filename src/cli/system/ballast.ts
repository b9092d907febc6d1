import path from "node:path";
import type { Command } from "commander";
import { fillOf } from "@/core/ballast/ballast";
import type { ShownBallast } from "@/core/ballast/shown";
import { ballastWords } from "@/core/ballast/ballast-words";
import { parseSize, formatSize } from "@/core/units/size";
import { shareFrom } from "@/core/units/share";
import { Ballasts, type BallastEnd } from "@/services/ballast/ballasts";
import { isProblem } from "@/services/problem";
import { Failure, printJson, Usage } from "../exit";
import { PROGRESS, ProgressLine } from "../progress-line";

interface Options {
  fill?: string;
  remove?: boolean;
  reserve?: string;
  progress?: boolean;
  json?: boolean;
}

/** `nerrit ballast`: fills a drive to a level, shows what ballast there is, and removes it. */
export function addBallast(program: Command): void {
  program
    .command("ballast")
    .description("keep a drive at a stated fill level with files of Nerrit's own, or remove them")
    .argument("[directory]", "a directory on the drive; without it all ballast of this machine")
    .option("--fill <share>", "how full the drive shall be, for example 85%")
    .option("--remove", "remove the ballast")
    .option("--reserve <size>", "space to leave free (default: larger of 2 % and 1 GiB)")
    .option("--progress", PROGRESS)
    .option("--json", "print one JSON document")
    .addHelpText(
      "after",
      "\nThe files lie in a folder nerrit-ballast in the directory. They stay until they are removed.",
    )
    .action(ballast);
}

async function ballast(named: string | undefined, options: Options): Promise<void> {
  const { fill, remove } = options;
  const directory = named === undefined ? undefined : path.resolve(named);
  if (fill !== undefined && remove) throw new Usage("--fill and --remove exclude each other");
  if (fill !== undefined && directory === undefined)
    throw new Usage("name the directory on the drive that shall be filled");
  const ballasts = new Ballasts(process.env.NERRIT_DATA ?? null);
  const line = new ProgressLine(options.progress === true);
  try {
    if (fill !== undefined || (remove && directory !== undefined))
      await keep(ballasts, directory!, fill === undefined ? 0 : levelOf(fill), options, line);
    else if (remove) await removeAll(ballasts, options, line);
    tell(await shown(ballasts, directory), options, directory);
  } catch (error) {
    line.clear();
    if (isProblem(error)) throw new Failure(error.message);
    throw error;
  }
}

/** Removes all ballast of the machine. @throws Failure that names what could not be removed, after all else */
async function removeAll(ballasts: Ballasts, options: Options, line: ProgressLine): Promise<void> {
  const failed: string[] = [];
  for (const { target } of await ballasts.list()) {
    try {
      await keep(ballasts, target, 0, options, line);
    } catch (error) {
      if (!isProblem(error) && !(error instanceof Failure)) throw error;
      failed.push(`${target}: ${error.message}`);
    }
  }
  if (failed.length > 0) throw new Failure(failed.join("\n"));
}

function levelOf(text: string): number {
  const level = shareFrom(text);
  if (level > 0 && level < 1) return level;
  throw new Usage(`--fill: "${text}" is no share of a drive; write for example 85%`);
}

/** Writes or removes ballast, and says how far that is. @throws Failure where it did not come to its end */
async function keep(
  ballasts: Ballasts,
  target: string,
  level: number,
  { reserve }: Options,
  line: ProgressLine,
): Promise<void> {
  const stop = () => ballasts.stop(target);
  const asked = {
    target,
    level,
    reserve: reserve === undefined ? null : sizeOf(reserve),
  };
  const { ended } = await ballasts.begin(asked, ({ bytes, total }) =>
    line.say(
      `${formatSize(bytes, 1000)} of ${formatSize(total, 1000)} of ballast written`,
      "ballast",
    ),
  );
  for (const signal of SIGNALS) process.on(signal, stop);
  const end = await ended;
  for (const signal of SIGNALS) process.off(signal, stop);
  line.clear();
  if (end.kind !== "done") throw new Failure(endWords(end, target));
}

const SIGNALS = ["SIGINT", "SIGTERM", "SIGHUP"] as const;

function endWords(end: BallastEnd, target: string): string {
  const why = "reason" in end ? end.reason : "It was stopped.";
  const left = end.left ? ` ${ballastWords(end.left.ballast, end.left.room)}.` : "";
  return `${why}${left} Remove the ballast with: nerrit ballast ${target} --remove`;
}

function sizeOf(text: string): number {
  try {
    return parseSize(text);
  } catch (error) {
    throw new Usage(`--reserve: ${(error as Error).message}`);
  }
}

async function shown(ballasts: Ballasts, directory: string | undefined): Promise<ShownBallast[]> {
  if (directory === undefined) return ballasts.list();
  const place = await ballasts.place(directory);
  if (!place) throw new Failure(`There is no directory ${directory}, or it does not answer.`);
  const { target, room, held } = place;
  return [{ target, room, bytes: held?.bytes ?? 0, level: held ? held.level : 0, doing: null }];
}

function tell(all: readonly ShownBallast[], { json }: Options, directory?: string): void {
  if (json)
    return printJson({
      ballast: all.map(({ target, bytes, level, room }) => ({
        directory: target,
        bytes,
        level,
        fill: fillOf(room),
        freeBytes: room.free,
        totalBytes: room.total,
      })),
    });
  const lines = all.map((one) => `${one.target}: ${ballastWords(one, one.room)}.`);
  const none = directory === undefined ? "There is no ballast on the drives of this machine." : "";
  for (const text of lines.length > 0 ? lines : [none]) console.log(text);
}
