"use client";

import { useRef, useState } from "react";
import { Button } from "./form";
import { send, type Following, type Sent } from "./send";

/** How often is asked what a request is at, milliseconds. */
const ASK_MS = 700;

/** A request that may take long: what it is at, how long it has taken, and a way to stop it. */
export interface Followed {
  /** Null where none is under way. */
  at: string | null;
  seconds: number;
  /** Sends one; whatever was under way is stopped. */
  follow<T>(sent: (more: Following) => Promise<Sent<T>>): Promise<Sent<T>>;
  stop(): void;
}

/** Follows requests that take large inputs in (/api/intake). */
export function useFollowed(): Followed {
  const [at, setAt] = useState<string | null>(null);
  const [seconds, setSeconds] = useState(0);
  const underWay = useRef<AbortController | null>(null);

  async function follow<T>(sent: (more: Following) => Promise<Sent<T>>): Promise<Sent<T>> {
    underWay.current?.abort();
    const mine = (underWay.current = new AbortController());
    const token = crypto.randomUUID();
    const begun = Date.now();
    setAt("sending it");
    setSeconds(0);
    const asking = setInterval(async () => {
      const answer = await send<{ at: string | null }>("GET", `/api/intake/${token}`);
      if (underWay.current !== mine) return;
      setSeconds(Math.round((Date.now() - begun) / 1000));
      if (answer.ok && answer.data.at) setAt(answer.data.at);
    }, ASK_MS);
    const answer = await sent({ headers: { "x-nerrit-intake": token }, signal: mine.signal });
    clearInterval(asking);
    if (underWay.current === mine) {
      underWay.current = null;
      setAt(null);
    }
    return answer;
  }
  return { at, seconds, follow, stop: () => underWay.current?.abort() };
}

/** What a request is at, with a way to stop it; nothing where none is under way, or only just. */
export function FollowedLine({ followed: { at, seconds, stop } }: { followed: Followed }) {
  if (at === null || seconds < 1) return null;
  return (
    <p className="flex items-center gap-3 text-[15px]" role="status">
      <span>
        {at[0]!.toUpperCase() + at.slice(1)}, {seconds} s so far …
      </span>
      <Button onClick={stop}>Stop</Button>
    </p>
  );
}
