import * as z from "zod";
import { HostName } from "../units/host-name";
import { HostFacts } from "./host-facts";
import { lacksOf, measuredBy, type Lack, type MeasuredBy } from "./lacks";

/** A host of the bench, as it was found when it was last looked at. */
export const KnownHost = z.object({
  id: z.string(),
  name: HostName,
  /** When it was looked at, as a moment of ISO 8601. */
  lookedAt: z.string(),
  /** What it said of itself, then or the last time that it was reached; null where it never was. */
  facts: HostFacts.nullable(),
  /** Why it was not reached; null where it was. */
  trouble: z.object({ code: z.string(), reason: z.string() }).nullable(),
});
export type KnownHost = z.infer<typeof KnownHost>;

/** What a page says of a host. */
export interface ShownHost extends KnownHost {
  /** What would measure there by what it has, once it is reached; null where nothing would. */
  measuredBy: MeasuredBy | null;
  lacks: Lack[];
}

/** A host with what follows from what it has. @param architecture of this machine, by the host's name for it */
export const shownHost = (host: KnownHost, architecture: string): ShownHost => ({
  ...host,
  measuredBy: host.facts && measuredBy(host.facts, architecture),
  lacks: host.facts ? lacksOf(host.facts, architecture) : [],
});
