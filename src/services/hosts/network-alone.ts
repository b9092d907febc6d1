import { spawn, type ChildProcessWithoutNullStreams } from "node:child_process";
import { randomBytes } from "node:crypto";
import os from "node:os";
import path from "node:path";
import { createInterface } from "node:readline";
import { secondsOf, type NetworkFigures } from "@/core/network/figures";
import { NetworkEvent, type NetworkJob, type Passage } from "@/core/network/protocol";
import type { EngineReady, ReadyHost } from "./ready";
import { HostProblem } from "./trouble";
import { commandOf, startOn } from "./ssh";

/** An end that says nothing for so much longer than its passages take is given up. */
const PATIENCE_MS = 30_000;

/** What is to be measured between which machines. */
export interface NetworkAsked {
  /** The end that asks; null for this machine. */
  from: ReadyHost | null;
  to: ReadyHost;
  /** By which address the one reaches the other; null for the one that SSH reached it by. */
  address: string | null;
  passages: readonly Passage[];
}

/**
 * Measures what a network carries by itself, from memory to memory: a measuring process at each end, and nothing
 * else between them. For that time the answering end takes connections at a port of its own, from whoever knows a
 * token that the two were given.
 *
 * @param dist where the measuring process was built here
 * @param begun told which passage begins
 * @throws HostProblem that says which end could not do it
 */
export async function networkAlone(
  { from, to, address, passages }: NetworkAsked,
  dist: string,
  begun: (passage: number) => void = () => undefined,
  stop: AbortSignal = new AbortController().signal,
): Promise<NetworkFigures> {
  const stopped = () => new HostProblem("stopped", "The network was not measured to the end.");
  // It may have been stopped while the hosts were made ready.
  if (stop.aborted) throw stopped();
  const token = randomBytes(16).toString("hex");
  const answering = new End(to.host, startOnHost(wholeEnd(to)));
  const asking: End[] = [];
  const ends: NetworkFigures["ends"] = { from: null, to: null };
  const carried: NetworkFigures["passages"] = [];
  const halt = () => [answering, ...asking].forEach((end) => end.end());
  stop.addEventListener("abort", halt);
  const timer = setTimeout(halt, secondsOf(passages) * 1500 + PATIENCE_MS);
  try {
    const { port, address: reached } = await answering.begin(
      { role: "answer", token },
      "listening",
    );
    const at = address ?? reached;
    if (at === null)
      throw new HostProblem("address", `${to.host} does not say by which address it is reached.`);
    const one = new End(
      from?.host ?? "this machine",
      from ? startOnHost(wholeEnd(from)) : startHere(dist),
    );
    asking.push(one);
    const whole = new Promise<void>((resolve) => {
      const hear = (side: "from" | "to") => (event: NetworkEvent) => {
        if (event.event === "end") ends[side] = event.end;
        else if (event.event === "begun") begun(event.passage);
        else if (event.event === "carried")
          carried.push({ ...passages[event.passage]!, carried: event.carried });
        if (carried.length === passages.length) resolve();
      };
      answering.hear = hear("to");
      one.hear = hear("from");
    });
    const job: NetworkJob = { role: "ask", token, address: at, port, passages: [...passages] };
    await Promise.race([one.begin(job, "done"), answering.broken]);
    // What the answering end counted may still be on its way.
    await Promise.race([whole, answering.broken]);
    const now = new Date().toISOString();
    return { from: from?.host ?? os.hostname(), to: to.host, at: now, ends, passages: carried };
  } catch (error) {
    if (stop.aborted) throw stopped();
    throw error;
  } finally {
    clearTimeout(timer);
    stop.removeEventListener("abort", halt);
    halt();
  }
}

const startHere = (dist: string): ChildProcessWithoutNullStreams =>
  spawn(process.execPath, [path.join(/* turbopackIgnore: true */ dist, "engine.mjs"), "network"]);

/** @throws HostProblem where the whole measuring process is not there */
function wholeEnd(ready: ReadyHost): EngineReady {
  if (ready.by === "engine") return ready;
  throw new HostProblem(
    "lacks",
    `${ready.host} has no Node. The network alone needs a measuring process at each end.`,
  );
}

const startOnHost = ({ host, node, engine }: EngineReady): ChildProcessWithoutNullStreams =>
  startOn(host, commandOf(["exec", node, engine, "network"])).child;

type Of<E extends NetworkEvent["event"]> = Extract<NetworkEvent, { event: E }>;

/** A measuring process at one end of the network. */
class End {
  hear: (event: NetworkEvent) => void = () => undefined;
  /** Never kept; broken off where the process fails or ends. */
  readonly broken: Promise<never>;
  private waiting: { event: string; resolve: (event: NetworkEvent) => void } | null = null;

  constructor(
    name: string,
    private readonly child: ChildProcessWithoutNullStreams,
  ) {
    let complaint = "";
    child.stdin.on("error", () => undefined); // it may have ended already; `broken` tells
    child.stderr.on("data", (chunk: Buffer) => {
      complaint = (complaint + chunk.toString()).slice(-500);
    });
    this.broken = new Promise<never>((_, reject) => {
      const fail = (reason: string) =>
        reject(new HostProblem("network", `The network was not measured. ${name}: ${reason}`));
      child.once("error", (error) => fail(error.message));
      const lines = createInterface({ input: child.stdout });
      lines.on("error", () => undefined);
      lines.on("line", (line) => {
        const event = eventIn(line);
        if (event?.event === "failed") fail(event.reason);
        else if (event) this.take(event);
      });
      lines.on("close", () =>
        fail(complaint.trim() || "its measuring process ended before the last passage."),
      );
    });
    this.broken.catch(() => undefined);
  }

  /** Tells it what to do. @returns the event that is waited for @throws HostProblem where it fails before */
  begin<E extends NetworkEvent["event"]>(job: NetworkJob, event: E): Promise<Of<E>> {
    this.child.stdin.write(`${JSON.stringify(job)}\n`);
    const told = new Promise<NetworkEvent>((resolve) => (this.waiting = { event, resolve }));
    return Promise.race([told as Promise<Of<E>>, this.broken]);
  }

  /** Ends it: it takes the end of its input for that. */
  end(): void {
    this.child.stdin.end();
    // Over SSH the line is all that there is of it here.
    setTimeout(() => this.child.kill(), 1000).unref();
  }

  private take(event: NetworkEvent): void {
    if (this.waiting?.event === event.event) this.waiting.resolve(event);
    this.hear(event);
  }
}

function eventIn(line: string): NetworkEvent | null {
  try {
    return NetworkEvent.parse(JSON.parse(line));
  } catch {
    return null; // a greeting, or a line cut short
  }
}
