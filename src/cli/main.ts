import { Command, CommanderError } from "commander";
import packageJson from "../../package.json";
import { addCeiling } from "./ceiling";
import { addDrills } from "./drills";
import { addDrives } from "./drives";
import { Failure, Usage } from "./exit";
import { addJudge } from "./judge";
import { addLocate } from "./locate";
import { addMeasure } from "./measure";
import { addPlan } from "./plan";
import { addProbe } from "./probe";
import { addRead } from "./read";
import { addReport } from "./report";
import { addSimulate } from "./simulate";
import { addWatch } from "./watch";

const program = new Command("nerrit")
  .description("Measures drives, accounts for links, and says which part is the narrows.")
  .version(packageJson.version)
  .showHelpAfterError("(nerrit --help shows how)")
  .exitOverride();
addMeasure(program);
addDrills(program);
addDrives(program);
addCeiling(program);
addJudge(program);
addLocate(program);
addPlan(program);
addProbe(program);
addRead(program);
addReport(program);
addSimulate(program);
addWatch(program);
for (const command of program.commands) command.exitOverride();

// Output cut short by its reader ("| head") is no error.
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EPIPE") process.exit(0);
  throw error;
});

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) {
    process.exitCode = error.exitCode === 0 ? 0 : 2;
  } else {
    const text = error instanceof Error ? error.message : String(error);
    process.stderr.write(`nerrit: ${text}\n`);
    process.exitCode = error instanceof Usage ? 2 : 1;
    if (!(error instanceof Usage) && !(error instanceof Failure) && error instanceof Error) {
      process.stderr.write(`${error.stack}\n`);
    }
  }
}
