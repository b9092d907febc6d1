import path from "node:path";
import { writeAs } from "@/core/units/writing";
import { Plugged } from "@/engine/plugged/follow";
import { dataFolder, openStore, type Store } from "@/store/database";
import { checkFolder } from "@/store/check";
import { ownFolder } from "@/store/owner";
import packageJson from "../../package.json";
import { Archives } from "./archive/archives";
import { Backups } from "./backups/backups";
import { Ballasts } from "./ballast/ballasts";
import { followFarHost } from "./hosts/far-host";
import { builtEngine, Hosts } from "./hosts/hosts";
import { MachineChecks } from "./hosts/machine-checks";
import { Networks } from "./hosts/networks";
import { PlanBench } from "./plans/plan-bench";
import { Planner } from "./plans/planner";
import { putSamplesIfPossible } from "./recordings/samples";
import { seedDemo } from "./studies/demo";
import { Desk } from "./measuring/desk";
import { Occupation } from "./measuring/occupation";
import { sweepRemoved } from "./studies/removal";
import { systemRoot } from "./plugged/system-root";
import { Recordings } from "./recordings/recordings";
import { writingOf } from "./writing";

/** What the application does its work with, once for each server process: its store, its desk, what is plugged in. */
export interface Services {
  store: Store;
  /** Where its data lies. */
  folder: string;
  desk: Desk;
  hosts: Hosts;
  networks: Networks;
  checks: MachineChecks;
  plugged: Plugged;
  planner: Planner;
  ballasts: Ballasts;
  recordings: Recordings;
  backups: Backups;
  archives: Archives;
  /** Lets another process have the data folder. */
  release(): void;
}

/** Ends all that goes on, and closes the store: the next call of services() opens it anew. */
export async function endServices(): Promise<void> {
  const { nerritServices: open } = shared;
  if (!open) return;
  const { desk, planner, ballasts, backups, archives, store, release } = open;
  backups.shutDown();
  archives.shutDown();
  await Promise.all([desk.shutDown(), planner.shutDown()]);
  await ballasts.shutDown();
  desk.keeper.close();
  store.$client.close();
  release();
  shared.nerritServices = undefined;
}

const shared = globalThis as typeof globalThis & { nerritServices?: Services };

/**
 * The services of this process; the first call opens the database, seeds the demo study if the
 * database is new, and marks what a crash left unfinished.
 *
 * @throws StoreProblem where the data folder cannot be worked with, or is another process's
 */
export function services(): Services {
  if (!shared.nerritServices) {
    const folder = dataFolder();
    checkFolder(folder);
    const port = process.env.NERRIT_PORT;
    const release = ownFolder(folder, port ? `http://127.0.0.1:${port}` : null);
    const store = openStore(folder);
    const hosts = new Hosts(store, builtEngine());
    const recordings = new Recordings(path.join(/* turbopackIgnore: true */ folder, "recordings"));
    const occupation = new Occupation(store);
    const desk = new Desk(store, folder, packageJson.version, undefined, {
      fileWith: (sha256) => recordings.fileWith(sha256),
      startOn: (...asked) => hosts.start(...asked),
      assertFree: () => occupation.assertFree(),
      followFar: (host, ...told) => (hosts.has(host) ? followFarHost(host, ...told) : null),
    });
    writeAs(writingOf(store));
    if (seedDemo(store)) putSamplesIfPossible(recordings.folder);
    sweepRemoved(store);
    desk.recover();
    const plugged = new Plugged(path.resolve(systemRoot()));
    const ballasts = new Ballasts(folder);
    const planner = new Planner(store, desk, new PlanBench(plugged, hosts), {
      ownFolder: folder,
      ballasts,
    });
    planner.recover();
    const isFree = () => occupation.isFree && !recordings.goesOn;
    shared.nerritServices = {
      store,
      folder,
      desk,
      hosts,
      checks: new MachineChecks(store, hosts, occupation, packageJson.version),
      networks: new Networks(store, hosts, occupation, builtEngine()),
      plugged,
      planner,
      ballasts,
      recordings,
      backups: new Backups(store, folder, isFree),
      archives: new Archives(store, folder, isFree),
      release,
    };
  }
  return shared.nerritServices;
}
