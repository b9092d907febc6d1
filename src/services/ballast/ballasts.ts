import path from "node:path";
import * as z from "zod";
import { FillLevel, type Ballast, type Room } from "@/core/ballast/ballast";
import type { BallastPlace, ShownBallast } from "@/core/ballast/shown";
import { MOST_BYTES } from "@/core/units/bounds";
import { absolutePath } from "@/core/units/text";
import { ballastAt, findBallast, roomOf } from "@/engine/ballast/places";
import { reserveOf } from "@/engine/target/target";
import { startEngine, type EngineEnd, type EngineProcess } from "../measuring/engine-process";
import { checked, Problem } from "../problem";

/** What is asked for. */
export const BallastRequest = z.object({
  target: absolutePath("name the directory on the drive"),
  level: FillLevel,
  reserve: z.number().int().nonnegative().max(MOST_BYTES).nullable().default(null),
  besideOwnData: z.boolean().default(false),
});
export type BallastRequest = z.infer<typeof BallastRequest>;

/** How the filling of a drive ended. */
export type BallastEnd = EngineEnd & { left: { ballast: Ballast; room: Room } | null };

interface Underway {
  process: EngineProcess;
  /** As it was when it began. */
  room: Room;
  doing: { bytes: number; total: number };
}

/** Of a directory that is not there: the measuring process says so. */
const NO_ROOM: Room = { free: 0, total: 0 };

/** Ballast on this machine's drives: made, found, and removed, each by a measuring process of its own. */
export class Ballasts {
  private readonly underway = new Map<string, Underway>();
  /** Why the last filling of a directory failed once it had begun. */
  private readonly troubles = new Map<string, string>();

  /**
   * @param ownFolder where Nerrit's own data lies: its drive is filled only where that is asked for
   * @param engineFile the bundled engine
   */
  constructor(
    private readonly ownFolder: string | null,
    private readonly engineFile?: string,
  ) {}

  /** All ballast there is, and all that is being made. */
  async list(): Promise<ShownBallast[]> {
    const found = await findBallast();
    // A drive that is being filled may be too busy to answer, or have nothing on it yet.
    const more = [...this.underway]
      .filter(([target]) => !found.some((one) => one.target === target))
      .map(([target, { room }]) => ({ target, bytes: 0, level: null, room }));
    const all: ShownBallast[] = [...found, ...more].map((one) => ({
      ...one,
      doing: this.underway.get(one.target)?.doing ?? null,
    }));
    return all.toSorted((a, b) => a.target.localeCompare(b.target));
  }

  /** How a place stands; null where there is no such directory, or it does not answer. */
  async place(target: string, reserve: number | null = null): Promise<BallastPlace | null> {
    const at = path.resolve(target);
    const held = await ballastAt(at);
    const room = held?.room ?? (await roomOf(at));
    if (!room) return null;
    return {
      target: at,
      room,
      reserve: reserveOf(reserve, room.total),
      held: held && { bytes: held.bytes, level: held.level },
    };
  }

  /**
   * Fills the drive of a directory to a level; 0 removes the ballast.
   *
   * @param tell called as it goes on, bytes done and in all
   * @returns once that is under way: how it will have ended, and a way to stop it
   * @throws Problem where it makes no sense, or is refused
   */
  async begin(
    input: unknown,
    tell: (doing: { bytes: number; total: number }) => void = () => undefined,
  ): Promise<{ ended: Promise<BallastEnd>; stop: () => void }> {
    const { target, level, reserve, besideOwnData } = checked(BallastRequest, input);
    const at = path.resolve(target);
    const room = (await roomOf(at)) ?? NO_ROOM;
    if (this.underway.has(at))
      throw new Problem(409, `Ballast is being made in ${at} already. Stop it first.`);
    const keepOff = besideOwnData ? null : this.ownFolder;
    let left: BallastEnd["left"] = null;
    let begun!: () => void;
    const beginning = new Promise<void>((resolve) => (begun = resolve));
    const process = startEngine(
      { ballast: { target: at, level, reserve, keepOff } },
      (event) => {
        if (event.event === "ballast") left = { ballast: event.ballast, room: event.room };
        if (event.event !== "preparing") return;
        const { bytes, total } = event;
        one.doing = { bytes, total };
        tell(one.doing);
        begun();
      },
      this.engineFile,
    );
    const one: Underway = { process, room, doing: { bytes: 0, total: 0 } };
    this.underway.set(at, one);
    this.troubles.delete(at);
    const ended = process.ended.then((end): BallastEnd => {
      this.underway.delete(at);
      if ("reason" in end && one.doing.total > 0) this.troubles.set(at, end.reason);
      return { ...end, left };
    });
    const first = await Promise.race([beginning, ended]);
    if (first?.kind === "refused") throw new Problem(422, first.reason, [], first.code);
    if (first && "reason" in first) throw new Problem(422, first.reason);
    return { ended, stop: process.stop };
  }

  /** Why the last filling of a directory did not come to its end; null where it did. */
  troubleAt(target: string): string | null {
    return this.troubles.get(path.resolve(target)) ?? null;
  }

  /** Stops the filling of a drive; what was written stays. */
  stop(target: string): void {
    const one = this.underway.get(path.resolve(target));
    if (!one) throw new Problem(404, `No ballast is being made in ${target}.`);
    one.process.stop();
  }

  /** Ends what is under way, and waits for it. */
  async shutDown(): Promise<void> {
    const all = [...this.underway.values()];
    for (const { process } of all) process.stop();
    await Promise.all(all.map(({ process }) => process.ended));
  }
}
