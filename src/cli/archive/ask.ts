import fs from "node:fs";
import type { Command } from "commander";
import { MOST_ROWS, type Answer } from "@/core/archive/answer";
import { answerCsv, titled, writeCell } from "@/core/archive/cell";
import { Filters, type Question } from "@/core/archive/questions/question";
import { findQuestion, QUESTIONS, sqlOf } from "@/core/archive/questions/questions";
import { askArchives } from "@/services/archive/by-command";
import { printJson, Usage } from "../exit";
import { table, wrapped } from "../lines";
import { plainly } from "../system/plainly";

/** A question is ended after so many seconds, unless another time is given. */
const SECONDS = 60;

interface Options extends Record<string, unknown> {
  archive?: string[];
  sql?: string;
  seconds: string;
  csv?: boolean;
  json?: boolean;
}

/** `nerrit ask`: ready questions, or one's own SQL, over one archive or several. */
export function addAsk(program: Command): void {
  program
    .command("ask")
    .description("ask one archive or several together; without a question, list the ready ones")
    .argument("[question]", "a ready question by its name")
    .option("--archive <folder...>", "where the archives are")
    .option("--sql <file>", "ask the SELECT statement in a file instead; - reads standard input")
    .option("--words <text>", "only parts whose name, maker, model, chip or mark contains this")
    .option("--direction <way>", "read or write")
    .option("--gbps <rate>", "only parts whose fastest link signals at so many Gb/s")
    .option("--host <name>", "only what this machine measured")
    .option("--since <day>", "from this day on, for example 2026-01-31")
    .option("--until <day>", "up to this day")
    .option("--simulated", "count runs of the simulated bench too")
    .option("--seconds <time>", "end the question after this time", String(SECONDS))
    .option("--csv", "print CSV")
    .option("--json", "print one JSON document")
    .action(async (name: string | undefined, options: Options) => {
      if (name === undefined && options.sql === undefined) return list();
      const question = name === undefined ? null : questionNamed(name);
      if (question && options.sql !== undefined)
        throw new Usage("name a ready question or --sql, not both");
      const sql = question ? sqlOf(question, filtersOf(options)) : readSql(options.sql!);
      if (!options.archive) throw new Usage("--archive: name the folder of an archive");
      const archives = options.archive;
      const ms = secondsOf(options.seconds) * 1e3;
      const answer = await plainly(() => askArchives(archives, sql, ms, MOST_ROWS));
      print(answer, question, options);
    });
}

function list(): void {
  const lines = QUESTIONS.flatMap(({ name, title }) => [name, ...wrapped(title, 2)]);
  process.stdout.write(
    `${lines.join("\n")}\n\nAsk one: nerrit ask ${QUESTIONS[0]!.name} --archive FOLDER\n`,
  );
}

function questionNamed(name: string): Question {
  const found = findQuestion(name);
  if (!found)
    throw new Usage(
      `there is no ready question “${name}”; there are ${QUESTIONS.map((one) => one.name).join(", ")}`,
    );
  return found;
}

function filtersOf({ simulated, ...rest }: Options): Filters {
  const parsed = Filters.safeParse({ ...rest, simulated: simulated ? "yes" : "no" });
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new Usage(`--${issue!.path.join(".")}: ${issue!.message}`);
}

function readSql(file: string): string {
  try {
    return fs.readFileSync(file === "-" ? 0 : file, "utf8");
  } catch (error) {
    throw new Usage(`--sql: ${file} cannot be read (${(error as Error).message})`);
  }
}

function secondsOf(text: string): number {
  const seconds = Number(text);
  if (!(seconds > 0 && seconds <= 86_400))
    throw new Usage("--seconds: give a number of seconds above 0, at most a day");
  return seconds;
}

function print(answer: Answer, question: Question | null, { csv, json }: Options): void {
  if (json) return printJson(answer);
  if (csv) return void process.stdout.write(answerCsv(answer));
  if (answer.rows.length === 0) {
    process.stdout.write("Nothing in the archive answers that.\n");
    return;
  }
  const columns = titled(answer, question?.columns);
  const rows = answer.rows.map((row) => row.map((value, i) => writeCell(value, columns[i]!.as)));
  const lines = table(
    columns.map(({ title }) => title),
    rows,
  );
  process.stdout.write(`${lines.join("\n")}\n`);
  if (answer.isCut)
    process.stderr.write(
      `nerrit: these are the first ${answer.rows.length} rows; there are more.\n`,
    );
}
