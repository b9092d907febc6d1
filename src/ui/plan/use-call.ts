"use client";

import { useState } from "react";

/** A tone of a fifth of a second, of a pitch that carries across a room. */
const HERTZ = 660;
const SECONDS = 0.2;

/** A sound that calls the tester, if it is wanted. */
export function useCall(): [{ on: boolean; ring: () => void }, (on: boolean) => void] {
  const [on, setOn] = useState(false);
  const [context, setContext] = useState<AudioContext | null>(null);
  const ring = (with_ = context) => {
    if (!with_) return;
    const tone = with_.createOscillator();
    tone.frequency.value = HERTZ;
    tone.connect(with_.destination);
    tone.start();
    tone.stop(with_.currentTime + SECONDS);
  };
  return [
    { on, ring: () => on && ring() },
    (next) => {
      setOn(next);
      if (!next) return;
      // Browsers let a page sound only after it was asked to by a press.
      const made = context ?? new AudioContext();
      setContext(made);
      ring(made);
    },
  ];
}
