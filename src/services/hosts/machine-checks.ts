import { randomUUID } from "node:crypto";
import os from "node:os";
import {
  CHECK_REPEATS,
  CHECK_SECONDS,
  checkedSteps,
  checkProgram,
  type MachineCheck,
} from "@/core/machine/check";
import type { CheckState } from "@/core/machine/check-state";
import { Step } from "@/core/run/program";
import type { EngineEvent, Job } from "@/core/run/protocol";
import type { StepResult } from "@/core/run/result";
import type { Store } from "@/store/database";
import { listMachineChecks, putMachineCheck } from "@/store/machine-checks";
import type { Occupation } from "../measuring/occupation";
import { startEngine, type EngineProcess } from "../measuring/engine-process";
import { log } from "../log";
import { isStoreFault, storeProblem } from "../problem";
import type { Hosts } from "./hosts";

/** Stands for the machine that Nerrit runs on, among the hosts' ids. */
export const HERE = "here";
/** Memory as a file system, on every Linux (tmpfs(5)). */
const MEMORY = "/dev/shm";

/** What machines carry without any drive: one is checked at a time. */
export class MachineChecks {
  private going: CheckState["going"] = null;
  private engine: EngineProcess | null = null;
  /** Why the latest check came to nothing, by the machine. */
  private readonly troubles = new Map<string, string>();

  /** @param version of Nerrit */
  constructor(
    private readonly store: Store,
    private readonly hosts: Hosts,
    private readonly occupation: Occupation,
    private readonly version: string,
  ) {}

  /** Of each machine that was checked the latest. */
  latest = (): MachineCheck[] => listMachineChecks(this.store);

  /** @param hostId or HERE @throws Problem where there is no such host */
  state(hostId: string): CheckState {
    const machine = this.nameOf(hostId);
    return {
      check: listMachineChecks(this.store).find((one) => one.machine === machine) ?? null,
      kernel: hostId === HERE ? os.release() : this.hosts.kernelOf(hostId),
      going: this.going,
      trouble: this.troubles.get(machine) ?? null,
    };
  }

  /** Begins to check a machine. @throws Problem where there is none of that id, or something else goes on */
  start(hostId: string): CheckState {
    const machine = this.nameOf(hostId);
    const leave = this.occupation.begin(
      `${machine} is being checked for what it can drive. Wait for the end of that, or stop the check on the page Hosts.`,
    );
    const program = checkProgram().map((step) => Step.parse(step));
    const job: Job = {
      targets: [MEMORY],
      program,
      repeats: CHECK_REPEATS,
      io: "buffered",
      reserve: 0,
      keepOff: null,
      nerrit: this.version,
      recordings: {},
    };
    const of = program.length * CHECK_REPEATS;
    const gathered = new Gathered(this.state(hostId).kernel, (step) => {
      const secondsLeft = CHECK_SECONDS * (1 - step / of);
      if (this.going) this.going = { ...this.going, step, secondsLeft };
    });
    this.troubles.delete(machine);
    this.going = { machine, step: 0, of, secondsLeft: CHECK_SECONDS };
    const tell = (event: EngineEvent) => gathered.hear(event);
    this.engine =
      hostId === HERE
        ? startEngine(job, tell)
        : this.hosts.start(machine, { id: randomUUID(), job }, tell, () => undefined);
    void this.keep(machine, this.engine, gathered).finally(() => {
      this.going = this.engine = null;
      leave();
    });
    return this.state(hostId);
  }

  /** Ends the check that goes on; nothing of it is kept. */
  stop(): void {
    this.engine?.stop();
  }

  private async keep(machine: string, engine: EngineProcess, gathered: Gathered): Promise<void> {
    const end = await engine.ended;
    const fail = (why: string) => this.troubles.set(machine, `${machine} was not checked: ${why}`);
    if ("reason" in end) return void fail(end.reason);
    if (end.kind === "stopped") return;
    try {
      putMachineCheck(this.store, gathered.check(machine));
    } catch (error) {
      log.error(error, "a check could not be kept");
      fail(isStoreFault(error) ? storeProblem(error).message : String(error));
    }
  }

  private nameOf = (hostId: string): string =>
    hostId === HERE ? os.hostname() : this.hosts.nameOf(hostId);
}

/** What a check told. */
class Gathered {
  private readonly repeats: StepResult[][] = [];
  private begun = 0;

  /**
   * @param kernel that runs there, as far as it is known; else the run's conditions name it
   * @param stepped told which step begins, over all repeats
   */
  constructor(
    private kernel: string | null,
    private readonly stepped: (step: number) => void,
  ) {}

  hear(event: EngineEvent): void {
    if (event.event === "conditions") this.kernel ??= event.conditions.kernel;
    else if (event.event === "started") this.repeats.push([]);
    else if (event.event === "step") this.stepped(this.begun++);
    else if (event.event === "stepped") this.repeats.at(-1)!.push(event.result);
  }

  check = (machine: string): MachineCheck => ({
    machine,
    at: new Date().toISOString(),
    kernel: this.kernel ?? "",
    steps: checkedSteps(this.repeats),
  });
}
