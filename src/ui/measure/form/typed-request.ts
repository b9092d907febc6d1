import type * as z from "zod";
import { drillNamed } from "@/core/drills/catalogue";
import { asWay, type DrillDirection, type DrillKind } from "@/core/drills/kind";
import type { TargetFacts } from "@/core/drills/parameter";
import type { MeasureRequest } from "@/core/drills/request";
import { settle } from "@/core/drills/settle";
import { parseSize } from "@/core/units/size";
import { settingsOf, type TypedSettings } from "./typed-settings";

/** What is typed into the form that asks for a measurement, as text. */
export interface Typed {
  rigId: string;
  /** The name of a drill, or the id of one of the tester's own. */
  drill: string;
  direction: DrillDirection;
  target: string;
  /** Of a copy: its other end. Of a Convoy: the further drives, a line each. */
  other: string;
  more: string;
  repeats: string;
  reserve: string;
  settings: TypedSettings;
  buffered: boolean;
  besideOwnData: boolean;
}

/** A size in bytes; null for text that is none. */
const size = (text: string): number | null => {
  try {
    return parseSize(text);
  } catch {
    return null;
  }
};

/** Bytes to leave free; null for the usual, also while it makes no sense. */
export const reserveOf = (text: string): number | null => (text.trim() === "" ? null : size(text));

/** A form to begin with. */
export function blank(drill: string, direction: DrillDirection): Typed {
  return {
    rigId: "",
    drill,
    target: "",
    other: "",
    more: "",
    repeats: "",
    reserve: "",
    direction: asWay(drillNamed(drill), direction),
    settings: {},
    buffered: false,
    besideOwnData: false,
  };
}

/** A request as it is sent: what was typed as a size and is none goes out as text, to be refused by name. */
export type TypedRequest = Omit<z.input<typeof MeasureRequest>, "rigId" | "reserve"> & {
  reserve: number | string | null;
};

/** What is sent to have it measured, or looked over before. @param title the tester's own name for it */
export function requestOf(kind: DrillKind, typed: Typed, title: string | undefined): TypedRequest {
  return {
    ...settingsOf(kind, typed.settings),
    drill: kind.name,
    ...(title ? { title } : {}),
    target: typed.target,
    other: kind.source && typed.other.trim() !== "" ? typed.other : null,
    more:
      kind.targets === "several"
        ? typed.more
            .split("\n")
            .map((line) => line.trim())
            .filter(Boolean)
        : [],
    direction: typed.direction,
    ...(typed.repeats.trim() === "" ? {} : { repeats: Number(typed.repeats) }),
    reserve: typed.reserve.trim() === "" ? null : (size(typed.reserve) ?? typed.reserve),
    io: typed.buffered ? "buffered" : "direct",
    besideOwnData: typed.besideOwnData,
  };
}

/** What will be done, in a line; where something makes no sense yet, that it does not. */
export function inWords(kind: DrillKind, typed: Typed, facts: TargetFacts | null): string {
  const times = typed.repeats.trim() || String(kind.repeats);
  try {
    const values = settle(kind, settingsOf(kind, typed.settings), facts);
    return `${kind.summary(values as never)}; ${times === "1" ? "once" : `${times} times`}`;
  } catch {
    return "Settings: something does not make sense yet";
  }
}
