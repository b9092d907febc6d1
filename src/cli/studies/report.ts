import { Option, type Command } from "commander";
import { ReportChoice } from "@/core/study/report-choice";
import { RateUnit } from "@/core/units/rate";
import { plainWords } from "@/core/units/plain-words";
import { DATE_STYLES, NUMBER_STYLES } from "@/core/units/writing";
import type * as Report from "@/publish/main";
import { Usage } from "../exit";
import { checkOut, writeNew } from "../measuring/out-file";
import { openFile } from "./study-file";

interface Options {
  out: string;
  unit?: RateUnit;
  numbers?: string;
  dates?: string;
  title?: string;
  author?: string;
  without?: string[];
}

/** `nerrit report`: a study as a report that anybody can read. */
export function addReport(program: Command): void {
  program
    .command("report")
    .description("write a study as a report that anybody can read, in one file")
    .argument("<study>", "a study's file (docs/formats.md)")
    .requiredOption(
      "--out <file>",
      "where to write it: one page (.html), or everything by itself (.zip)",
    )
    .option("--title <text>", "instead of the study's title")
    .option("--author <text>", "who reports")
    .option("--without <sections...>", "sections to leave out, by their names in docs/formats.md")
    .addOption(new Option("--unit <unit>", "of rates").choices(RateUnit.options))
    .addOption(
      new Option("--numbers <style>", "how figures are written").choices(
        Object.keys(NUMBER_STYLES),
      ),
    )
    .addOption(new Option("--dates <style>", "how days are written").choices([...DATE_STYLES]))
    .action(async (study: string, { out, without = [], ...rest }: Options) => {
      checkOut(out);
      const file = openFile(study);
      // What the study's file chose stands, but for what is asked for here.
      const left = (file.report?.sections ?? []).filter(({ key }) => !without.includes(key));
      const choice = ReportChoice.safeParse(
        {
          ...file.report,
          ...rest,
          sections: [...left, ...without.map((key) => ({ key, shown: false }))],
        },
        { error: plainWords },
      );
      if (!choice.success) {
        const [issue] = choice.error.issues;
        throw new Usage(`${issue!.path.join(" ")}: ${issue!.message}`);
      }
      const { makeReport } = await loaded();
      const { bytes } = makeReport({
        file,
        choice: choice.data,
        at: new Date().toISOString(),
        form: out.toLowerCase().endsWith(".zip") ? "zip" : "html",
      });
      writeNew(out, bytes);
    });
}

/** Drawing takes much code that no other command needs: it is loaded when it is asked for. */
const loaded = async (): Promise<typeof Report> =>
  (await import(new URL("report.mjs", import.meta.url).href)) as typeof Report;
