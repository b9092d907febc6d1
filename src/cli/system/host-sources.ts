import { COUNTED_NAME, LoadTally, type HostLoad, type HostLook } from "@/core/host/counters";
import { HostName } from "@/core/units/host-name";
import { isCoreFull } from "@/core/run/step";
import { formatPercent } from "@/core/units/number";
import type { Source } from "@/engine/watch/source";
import { followCounters } from "@/services/hosts/follow-counters";
import type { HostTrouble } from "@/services/hosts/trouble";
import { Failure } from "../exit";

/** "router:eth0": what is counted on another host; null for what is this machine's. */
export function onAnotherHost(text: string): { host: string; name: string } | null {
  const at = text.lastIndexOf(":");
  const [host, name] = [text.slice(0, at), text.slice(at + 1)];
  return at > 0 && HostName.safeParse(host).success && COUNTED_NAME.test(name)
    ? { host, name }
    : null;
}

/** A source whose counts come with the time at which they were read. */
export interface TimedSource extends Source {
  /** When what is counted was read, milliseconds of the watching. */
  at(): number;
}

/** A host that is watched: its counters as sources, and how busy it is. */
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
    say: (text: string) => void,
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

  /** Waits for the first look. @throws Failure where none comes, or something is not there */
  async sources(): Promise<TimedSource[]> {
    await new Promise<void>((resolve) => {
      this.arrived = resolve;
      if (this.look || this.lastTrouble) resolve();
    });
    this.arrived = () => undefined;
    const { look } = this;
    if (!look) {
      this.stop();
      throw new Failure(this.lastTrouble!.reason);
    }
    const missing = this.names.find((name) => !look.counts.has(name));
    if (missing !== undefined) {
      this.stop();
      throw new Failure(
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

  get load(): HostLoad {
    return this.tally.load;
  }
}

/** How busy a host was, as lines for a terminal. */
export function loadText(host: string, { core, memory }: HostLoad): string[] {
  const used = memory === null ? [] : [`${formatPercent(memory)} of its memory was in use`];
  if (!core) return used.length > 0 ? [`${host}: ${used.join("")}`] : [];
  const full = isCoreFull({ busiestCore: core.mean })
    ? "had no time left: what goes through this host goes no faster"
    : `was busy ${formatPercent(core.mean)} of the time, ${formatPercent(core.peak)} in its busiest second`;
  return [[`${host}: core ${core.number} ${full}`, ...used].join("; ")];
}
