"use client";

import { useEffect, useRef, useState } from "react";
import type { WatchedHostLoad } from "@/core/run/host-load";
import { Looked, Tally } from "@/core/watch/tally";

/** A moment's rates of one source, for the picture. MB/s. */
export interface Point {
  seconds: number;
  read: number;
  write: number;
}

/** What is watched, as it stands now. */
export interface Watching {
  /** What is watched, by name; all else in the same order. */
  names: readonly string[];
  /** Since the first look at any of it. */
  ms: number;
  tallies: Tally[];
  /** The last minute of each. */
  points: Point[][];
  /** Sources that the system does not list any more. */
  gone: boolean[];
  /** How busy the hosts are that count some of it. */
  hosts: readonly WatchedHostLoad[];
  lost: boolean;
}

/** How much of the past the picture shows, seconds. */
export const SHOWN_SECONDS = 60;

/**
 * Follows the counters of drives and interfaces; null until the first look. What is still named when others
 * come or go keeps what was seen of it.
 *
 * @param perSecond looks, at most 10
 */
export function useWatch(
  names: readonly string[],
  perSecond: number,
): {
  watching: Watching | null;
  /** Why there is nothing to be seen: the server refused what was named, or does not answer. */
  trouble: string | null;
} {
  const [watching, setWatching] = useState<Watching | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const query = names.map((name) => `name=${encodeURIComponent(name)}`).join("&");
  const every = Math.round(1000 / perSecond);
  const kept = useRef(new Map<string, { tally: Tally; points: Point[] }>());
  const begun = useRef<number | null>(null);
  useEffect(() => {
    if (!query) return;
    const watched = new URLSearchParams(query).getAll("name");
    const all = watched.map((name) => {
      const known = kept.current.get(name) ?? { tally: new Tally(), points: [] };
      kept.current.set(name, known);
      return known;
    });
    // Each stream counts its own time from 0.
    begun.current ??= performance.now();
    const offset = performance.now() - begun.current;
    const source = new EventSource(`/api/watch/events?${query}&every=${every}`);
    source.addEventListener("looked", (event) => {
      setTrouble(null);
      const {
        ms: own,
        counts,
        at,
        hosts = [],
      } = Looked.parse(JSON.parse((event as MessageEvent<string>).data));
      const ms = offset + own;
      all.forEach((one, i) => {
        const count = counts[i];
        // A host counts once a second, by its own clock: the same look comes more than once.
        const counted = offset + (at?.[i] ?? own);
        if (!count || counted <= (one.tally.lastMs ?? -Infinity)) return;
        one.tally.add({ ms: counted, ...count });
        const now = one.tally.figures?.now;
        if (!now) return;
        const last = [...one.points, { seconds: counted / 1e3, ...now }];
        one.points = last.filter(({ seconds }) => seconds > ms / 1e3 - SHOWN_SECONDS);
      });
      setWatching({
        names: watched,
        ms,
        tallies: all.map(({ tally }) => tally),
        points: all.map(({ points }) => points),
        gone: counts.map((count) => count === null),
        hosts,
        lost: false,
      });
    });
    source.addEventListener("error", async () => {
      setWatching((was) => (was ? { ...was, lost: true } : was));
      // A refusal ends the following for good, and its words do not come through that way.
      if (source.readyState !== EventSource.CLOSED) return;
      const answer = await fetch(`/api/watch/events?${query}`).catch(() => null);
      const said = answer?.ok === false ? await answer.json() : null;
      setTrouble(said?.error?.message ?? "Nerrit's server does not answer.");
    });
    return () => source.close();
  }, [query, every]);
  return { watching, trouble };
}
