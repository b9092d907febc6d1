import { Command, CommanderError } from "commander";
import { Refusal } from "@/engine/refusal";
import packageJson from "../../package.json";
import { Failure, Usage } from "./exit";

/** The commands by name, each in a file of its own. */
const COMMANDS: Record<string, () => Promise<(program: Command) => void>> = {
  archive: async () => (await import("./archive/archive")).addArchive,
  ask: async () => (await import("./archive/ask")).addAsk,
  measure: async () => (await import("./measuring/measure")).addMeasure,
  backup: async () => (await import("./system/backup")).addBackup,
  ballast: async () => (await import("./system/ballast")).addBallast,
  drills: async () => (await import("./measuring/drills")).addDrills,
  drives: async () => (await import("./system/drives")).addDrives,
  ceiling: async () => (await import("./ceiling")).addCeiling,
  hosts: async () => (await import("./system/hosts")).addHosts,
  judge: async () => (await import("./studies/judge")).addJudge,
  locate: async () => (await import("./studies/locate")).addLocate,
  network: async () => (await import("./system/network")).addNetwork,
  plan: async () => (await import("./planning/plan")).addPlan,
  probe: async () => (await import("./system/probe")).addProbe,
  read: async () => (await import("./read")).addRead,
  record: async () => (await import("./system/record")).addRecord,
  report: async () => (await import("./studies/report")).addReport,
  restore: async () => (await import("./system/restore")).addRestore,
  simulate: async () => (await import("./measuring/simulate")).addSimulate,
  watch: async () => (await import("./system/watch")).addWatch,
};

/** What is said in words of its own, without where in the program it came up. */
const isPlain = (error: unknown) => [Usage, Failure, Refusal].some((kind) => error instanceof kind);

const program = new Command("nerrit")
  .description("Measures drives, accounts for links, and says which part is the bottleneck.")
  .version(packageJson.version)
  .showHelpAfterError("(nerrit --help shows how)")
  .exitOverride();
// Only what is asked for is loaded: a command is there at once.
const name = process.argv[2] ?? "";
const asked = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
for (const load of asked ? [asked] : Object.values(COMMANDS)) (await load())(program);
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
    if (!isPlain(error) && error instanceof Error) {
      process.stderr.write(`${error.stack}\n`);
    }
  }
}
