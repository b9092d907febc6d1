import { randomUUID } from "node:crypto";
import path from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import type { CountedName } from "@/core/host/counted";
import { shownHost, type KnownHost, type ShownHost } from "@/core/host/known-host";
import type { AnswerTo, Question } from "@/core/host/question";
import type { EngineEvent } from "@/core/run/protocol";
import type { SeenDrive } from "@/core/system/drive";
import type { Touch } from "@/core/run/touch";
import { HostName } from "@/core/units/host-name";
import type { Store } from "@/store/database";
import { deleteHost, listHosts, putHost } from "@/store/hosts";
import type { EngineEnd, EngineProcess } from "../measuring/engine-process";
import { drivesNow } from "../plugged/plugged";
import { isStoreFault, Problem } from "../problem";
import { TOLD_HOSTS } from "../removed/lists";
import { noteMissing } from "../removed/note";
import { askHost } from "./ask";
import { askCounted } from "./ask-counted";
import { configuredHosts } from "./configured";
import { startEngineOn, type HostRun } from "./engine-on";
import { notKnown, thisMachine, unrefused, type Machines } from "./machines";
import { askOn } from "./ask-on";
import { ownArchitecture, readyHost, type ReadyHost } from "./ready";
import { HostProblem } from "./trouble";

/** So long what was found out about a host stands for what it is now. */
const READY_MS = 300_000;
/** A run that was begun before is looked for as long as the host would keep it, and a little longer. */
const SEARCH_MS = 3_900_000;
/** Between two tries to reach such a host. */
const AGAIN_MS = 5000;

/** The hosts of a bench: added by name, looked at, asked, and measured on. */
export class Hosts implements Machines {
  private readonly ready = new Map<string, { at: number; host: Promise<ReadyHost> }>();
  /** How many runs go on on each host. */
  private readonly running = new Map<string, number>();

  /** @param dist where the measuring process was built */
  constructor(
    private readonly store: Store,
    private readonly dist: string,
    private readonly here: Machines = thisMachine(),
  ) {}

  list(): ShownHost[] {
    return listHosts(this.store).map((host) => shownHost(host, ownArchitecture()));
  }

  /** Whether a name is one of the hosts'. */
  has = (name: string): boolean => this.known(name) !== undefined;

  /** Hosts that the tester's SSH configuration names, and that were not added. */
  offered(): string[] {
    const known = new Set(listHosts(this.store).map(({ name }) => name));
    return configuredHosts().filter((name) => !known.has(name));
  }

  /**
   * Adds a host that can be reached.
   *
   * @throws Problem where it is not reached, or is one already
   */
  async add(input: unknown): Promise<ShownHost> {
    const asked = String((input as { name?: unknown } | null)?.name ?? "");
    const parsed = HostName.safeParse(asked);
    if (!parsed.success)
      throw nameProblem(422, `“${asked.slice(0, 80)}” ${parsed.error.issues[0]!.message}.`);
    const name = parsed.data;
    if (this.known(name)) throw nameProblem(409, `${name} is one of the hosts already.`);
    const facts = await askHost(name);
    if ("code" in facts) throw nameProblem(422, facts.reason, facts.code);
    const host = { id: randomUUID(), name, lookedAt: now(), facts, trouble: null };
    this.store.transaction(() => {
      putHost(this.store, host, now());
      noteMissing(this.store, TOLD_HOSTS, [], [host]);
    });
    return shownHost(host, ownArchitecture());
  }

  /** Looks at a host again. @throws Problem where there is none of that id */
  async look(id: string): Promise<ShownHost> {
    const host = this.of(id);
    this.ready.delete(host.name);
    const found = await askHost(host.name);
    const change = "code" in found ? { trouble: { ...found } } : { facts: found, trouble: null };
    const looked = { ...host, ...change, lookedAt: now() };
    putHost(this.store, looked, now());
    return shownHost(looked, ownArchitecture());
  }

  /** Takes a host off the list; rigs and runs that name it keep its name. @throws Problem where there is none */
  remove(id: string): void {
    const host = this.of(id);
    this.store.transaction(() => {
      deleteHost(this.store, host.id);
      noteMissing(this.store, TOLD_HOSTS, [host], []);
    });
  }

  /** The drives that a host has now. @throws Problem where there is no such host, or it is not reached */
  async drives(id: string): Promise<SeenDrive[]> {
    return drivesNow(this, this.of(id).name);
  }

  /** What can be watched on a host. @throws Problem where there is no such host, or it is not reached */
  async counted(id: string): Promise<CountedName[]> {
    const { name } = this.of(id);
    try {
      return await askCounted(name);
    } catch (error) {
      throw error instanceof HostProblem ? problemOf(error) : error;
    }
  }

  /** A host that measures is asked nothing: each answer is a process of its own there. */
  async ask<Q extends Question>(host: string | null, question: Q): Promise<AnswerTo<Q>> {
    if (host === null) return this.here.ask(null, question);
    if (!this.known(host)) throw notKnown(host);
    if (this.running.has(host))
      throw new Problem(
        422,
        `A run goes on on ${host}: the host is asked nothing else until the run is over.`,
        [],
        "host-busy",
      );
    const wasReady = this.ready.has(host);
    try {
      return unrefused(question, await askOn(await this.readied(host), question));
    } catch (error) {
      if (!(error instanceof HostProblem)) throw error;
      this.ready.delete(host);
      // Its cache folder may have been emptied since.
      if (wasReady) return this.ask(host, question);
      throw problemOf(error);
    }
  }

  /**
   * Starts a measuring process on a host, or finds one that was started before.
   *
   * @param tell called with every event but the last, in order
   * @param touched told when the line is cut, and when it carries again
   */
  start(
    host: string,
    run: HostRun,
    tell: (event: EngineEvent) => void,
    touched: (touch: Touch) => void,
  ): EngineProcess {
    let engine: EngineProcess | null = null;
    const halt = new AbortController();
    const begun = async (): Promise<EngineEnd> => {
      if (run.job && "targets" in run.job && !this.known(host))
        throw new HostProblem("host", notKnown(host).message);
      const ready =
        run.job === null
          ? await this.reached(host, touched, halt.signal)
          : await this.readied(host);
      // The small program clears up itself, whenever it begins there again.
      if (ready.by === "program" && run.job !== null && "sweep" in run.job) return { kind: "done" };
      engine = startEngineOn(ready, run, (event) => tell(withClock(event, ready)), touched);
      if (halt.signal.aborted) engine.stop();
      return engine.ended;
    };
    // What only clears up after a run takes a moment, and holds nobody up.
    const isRun = run.job === null || !("sweep" in run.job);
    if (isRun) this.count(host, 1);
    const ended = begun()
      .catch((error: unknown): EngineEnd => {
        // Nobody waits for a run that is found again: whatever fails is an end of it.
        if (!(error instanceof HostProblem))
          return {
            kind: "failed",
            reason: `The measuring process could not be started on ${host}: ${String(error)}`,
          };
        const { code, message: reason } = error;
        return run.job === null
          ? { kind: "interrupted", reason }
          : { kind: "refused", code, reason };
      })
      .finally(() => isRun && this.count(host, -1));
    return {
      ended,
      stop() {
        halt.abort();
        engine?.stop();
      },
      // A repeat waits for that only once the process there has said so.
      go: (repeat) => engine?.go(repeat),
    };
  }

  /** Counts the runs that go on on a host. */
  private count(host: string, change: 1 | -1): void {
    const runs = (this.running.get(host) ?? 0) + change;
    if (runs > 0) this.running.set(host, runs);
    else this.running.delete(host);
  }

  /** @throws Problem where there is none of that id */
  private of(id: string): KnownHost {
    const host = listHosts(this.store).find((one) => one.id === id);
    if (!host) throw new Problem(404, "There is no such host any more.");
    return host;
  }

  private known(name: string): KnownHost | undefined {
    return listHosts(this.store).find((host) => host.name === name);
  }

  /** How a host is called. @throws Problem where there is none of that id */
  nameOf = (id: string): string => this.of(id).name;

  /** The kernel that a host runs, as far as it is known. @throws Problem where there is none of that id */
  kernelOf = (id: string): string | null => this.of(id).facts?.release ?? null;

  /** Does something with hosts that are asked nothing else meanwhile. */
  async holding<T>(names: readonly string[], work: () => Promise<T>): Promise<T> {
    for (const name of names) this.count(name, 1);
    try {
      return await work();
    } catch (error) {
      // What lies there may have been taken away since it was sent.
      for (const name of names) this.ready.delete(name);
      throw error;
    } finally {
      for (const name of names) this.count(name, -1);
    }
  }

  /** A host with the measuring process on it. @throws HostProblem that says what is missing */
  readied(name: string): Promise<ReadyHost> {
    const found = this.ready.get(name);
    if (found && Date.now() - found.at < READY_MS) return found.host;
    const host = readyHost(name, this.dist);
    this.ready.set(name, { at: Date.now(), host });
    host.then(
      ({ facts }) => this.note(name, { facts, trouble: null }),
      (error: unknown) => {
        this.ready.delete(name);
        if (error instanceof HostProblem && error.code !== "lacks")
          this.note(name, { trouble: { code: error.code, reason: error.message } });
      },
    );
    return host;
  }

  /** Waits until a host is reached on which a run may go on. @throws HostProblem where that is in vain */
  private async reached(
    name: string,
    touched: (touch: Touch) => void,
    halt: AbortSignal,
  ): Promise<ReadyHost> {
    const outSince = Date.now();
    for (;;) {
      try {
        return await this.readied(name);
      } catch (error) {
        if (!(error instanceof HostProblem)) throw error;
        const { code, message: reason } = error;
        if (halt.aborted || Date.now() - outSince > SEARCH_MS)
          throw new HostProblem(
            code,
            `${name} was not reached, so what the run brought after the end of Nerrit's server is not here. The run ends by itself within an hour. ${reason}`,
          );
        touched({ host: name, outSince, reason });
        await sleep(AGAIN_MS, undefined, { signal: halt }).catch(() => undefined);
      }
    }
  }

  /**
   * Keeps what was found on the way; the page says the same as the run. Nothing is written where nothing that stays
   * has changed: whatever is written has everything worked out anew.
   */
  private note(name: string, found: Partial<KnownHost>): void {
    const host = this.known(name);
    if (!host || stays({ ...host, ...found }) === stays(host)) return;
    try {
      putHost(this.store, { ...host, ...found, lookedAt: now() }, now());
    } catch (error) {
      if (!isStoreFault(error)) throw error;
    }
  }
}

/** Conditions of a run with how far the host's clock is off: the run's times are the host's. */
function withClock(event: EngineEvent, { facts: { clock } }: ReadyHost): EngineEvent {
  if (event.event !== "conditions" || !clock) return event;
  return { ...event, conditions: { ...event.conditions, clock } };
}

/** What of a host does not change from one look to the next, as a text. */
const stays = ({ facts, trouble }: KnownHost): string =>
  JSON.stringify([
    trouble,
    facts && { ...facts, cache: facts.cache?.folder, clock: null, roundTripMs: null },
  ]);

/** Where the application's measuring process was built. */
export const builtEngine = () => path.join(/* turbopackIgnore: true */ process.cwd(), "dist");

const problemOf = ({ message, code }: HostProblem) => new Problem(422, message, [], code);
const now = () => new Date().toISOString();
const nameProblem = (status: 409 | 422, message: string, code: string | null = null) =>
  new Problem(status, message, [{ path: "name", message }], code);
