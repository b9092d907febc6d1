import os from "node:os";
import * as z from "zod";
import { secondsOf, usualPassages } from "@/core/network/figures";
import type { NetworkGoing, NetworkState } from "@/core/network/network-state";
import { Passage } from "@/core/network/protocol";
import { HostName } from "@/core/units/host-name";
import type { Store } from "@/store/database";
import { listNetworks, putNetwork } from "@/store/networks";
import type { Occupation } from "../measuring/occupation";
import { log } from "../log";
import { checked, isStoreFault, Problem, storeProblem } from "../problem";
import type { Hosts } from "./hosts";
import { networkAlone } from "./network-alone";
import { HostProblem } from "./trouble";

const Asked = z.object({
  /** The host at this end; null for this machine. */
  from: HostName.nullable().default(null),
  connections: z.array(Passage.shape.connections).min(1).max(8).optional(),
  repeats: z.number().int().min(1).max(20).optional(),
  seconds: z.number().min(0.5).max(60).optional(),
});

/** What the networks to the hosts of a bench carry by themselves: one is measured at a time. */
export class Networks {
  private going: NetworkGoing | null = null;
  private halt: AbortController | null = null;
  /** Why the latest measurement to a host failed, by the host. */
  private readonly troubles = new Map<string, string>();

  constructor(
    private readonly store: Store,
    private readonly hosts: Hosts,
    private readonly occupation: Occupation,
    private readonly dist: string,
  ) {}

  /** @throws Problem where there is no such host */
  state(hostId: string): NetworkState {
    const to = this.hosts.nameOf(hostId);
    return {
      figures: listNetworks(this.store).filter((one) => one.to === to),
      going: this.going,
      trouble: this.troubles.get(to) ?? null,
    };
  }

  /**
   * Begins to measure the network to a host, which takes about a minute.
   *
   * @throws Problem where there is no such host, or something else is being measured
   */
  start(hostId: string, input: unknown): NetworkState {
    const { from, ...set } = checked(Asked, input);
    const to = this.hosts.nameOf(hostId);
    if (from === to) throw new Problem(422, "A network has two ends: choose another machine.");
    if (from !== null && !this.hosts.has(from)) throw new Problem(422, `${from} is no host here.`);
    const leave = this.occupation.begin(
      `The network to ${to} is being measured. Wait for the end of that, or stop it on the page Hosts.`,
    );
    const passages = usualPassages(set);
    const seconds = secondsOf(passages);
    const ends = { from: from ?? os.hostname(), to };
    this.going = { ...ends, passage: 0, of: passages.length, secondsLeft: seconds };
    this.halt = new AbortController();
    this.troubles.delete(to);
    void this.measure(from, to, passages).finally(() => {
      this.going = this.halt = null;
      leave();
    });
    return this.state(hostId);
  }

  /** Ends what goes on; what was not measured to its end is not kept. */
  stop(): void {
    this.halt?.abort();
  }

  private async measure(
    from: string | null,
    to: string,
    passages: ReturnType<typeof usualPassages>,
  ): Promise<void> {
    const { signal } = this.halt!;
    const names = [to, ...(from === null ? [] : [from])];
    try {
      const figures = await this.hosts.holding(names, async () => {
        const [there, here] = await Promise.all([
          this.hosts.readied(to),
          from === null ? null : this.hosts.readied(from),
        ]);
        const asked = { from: here, to: there, address: null, passages };
        const begun = (passage: number) => {
          const secondsLeft = secondsOf(passages.slice(passage));
          if (this.going) this.going = { ...this.going, passage, secondsLeft };
        };
        return networkAlone(asked, this.dist, begun, signal);
      });
      putNetwork(this.store, figures);
    } catch (error) {
      if (error instanceof HostProblem) {
        if (error.code !== "stopped") this.troubles.set(to, error.message);
        return;
      }
      if (isStoreFault(error))
        this.troubles.set(
          to,
          `What the network carried was not kept. ${storeProblem(error).message}`,
        );
      else {
        log.error(error, "the network could not be measured");
        this.troubles.set(to, `The network was not measured: ${String(error)}`);
      }
    }
  }
}
