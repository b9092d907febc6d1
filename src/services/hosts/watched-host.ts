import { LoadTally, type HostLook } from "@/core/host/counters";
import type { WatchedHostLoad } from "@/core/run/host-load";
import type { Source } from "@/engine/watch/source";
import { followCounters } from "./follow-counters";
import { HostProblem } from "./trouble";
import type { HostTrouble } from "./trouble";

/** A source whose counts come with the time at which they were read. */
export interface TimedSource extends Source {
  /** When what is counted was read, milliseconds of the watching. */
  at(): number;
}

/** A host that is watched: its counters as sources, and how busy it is. A shell there is enough. */
export class WatchedHost {
  private readonly tally = new LoadTally();
  private look: HostLook | null = null;
  /** The host's time since it came up less this process's, milliseconds. */
  private ahead: number | null = null;
  private lastTrouble: HostTrouble | null = null;
  private arrived: () => void = () => undefined;
  /** Ends it. */
  readonly stop: () => void;

  /**
   * @param begun when the watching began, on the monotonic clock
   * @param say told what happens to the line
   */
  constructor(
    readonly host: string,
    private readonly names: readonly string[],
    private readonly begun: () => number,
    say: (text: string) => void = () => undefined,
  ) {
    this.stop = followCounters(
      host,
      names,
      (look) => {
        if (this.lastTrouble) say(`In touch with ${host} again.`);
        this.lastTrouble = null;
        // The host's own clock says when it counted; how long that took to arrive is no matter.
        if (this.ahead === null || look.upMs < (this.look?.upMs ?? 0))
          this.ahead = look.upMs - performance.now();
        this.look = look;
        this.tally.add(look);
        this.arrived();
      },
      (trouble) => {
        if (!this.lastTrouble && this.look) say(`Out of touch with ${host}. ${trouble.reason}`);
        this.lastTrouble = trouble;
        this.arrived();
      },
    );
  }

  /** Waits for the first look. @throws HostProblem where none comes, or something is not there */
  async sources(): Promise<TimedSource[]> {
    await new Promise<void>((resolve) => {
      this.arrived = resolve;
      if (this.look || this.lastTrouble) resolve();
    });
    this.arrived = () => undefined;
    const { look } = this;
    if (!look) {
      this.stop();
      const { code, reason } = this.lastTrouble!;
      throw new HostProblem(code, reason);
    }
    const missing = this.names.find((name) => !look.counts.has(name));
    if (missing !== undefined) {
      this.stop();
      throw new HostProblem(
        "not-counted",
        `${this.host} counts nothing for ${missing}: it is no drive and no network interface there.`,
      );
    }
    return this.names.map((name) => this.sourceOf(name));
  }

  private sourceOf(name: string): TimedSource {
    return {
      name: `${this.host}:${name}`,
      kind: this.look!.counts.get(name)!.kind,
      number: null,
      count: async () => this.look?.counts.get(name) ?? null,
      at: () => this.look!.upMs - this.ahead! - this.begun(),
    };
  }

  /** How the host stands now. */
  get now(): WatchedHostLoad {
    return {
      host: this.host,
      load: this.tally.load,
      trouble: this.lastTrouble?.reason ?? null,
    };
  }
}

/** Hosts of what is named as "router:eth0", each with what is watched there. */
export function byHost(places: readonly { host: string; name: string }[]): Map<string, string[]> {
  const hosts = new Map<string, string[]>();
  for (const { host, name } of places) hosts.set(host, [...(hosts.get(host) ?? []), name]);
  return hosts;
}
