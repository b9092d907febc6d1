"use client";

import { ToggleGroup } from "radix-ui";
import { useState } from "react";
import { letterOf } from "@/core/answer/lettered-rig";
import { differences } from "@/core/chain/difference";
import type { Rig } from "@/core/chain/rig";
import { counted } from "@/core/units/counted";
import { Select } from "../controls/select";

/** What differs between two rigs, counted and in words; every pair is one choice away. */
export function WhatDiffers({ rigs }: { rigs: Rig[] }) {
  const [pair, setPair] = useState<[number, number]>([0, 1]);
  if (rigs.length < 2) return null;
  const [a, b] = [Math.min(pair[0], rigs.length - 1), Math.min(pair[1], rigs.length - 1)];
  const found = differences(rigs[a]!, rigs[b]!);
  const choose = (which: 0 | 1, label: string) => (
    <Select
      label={label}
      name={which === 0 ? "first-rig" : "second-rig"}
      className="!w-auto !py-0 font-serif italic"
      value={String(which === 0 ? a : b)}
      options={rigs.map((rig, i) => ({ value: String(i), text: `${letterOf(i)} · ${rig.name}` }))}
      onChange={(next) => setPair(which === 0 ? [Number(next), b] : [a, Number(next)])}
    />
  );
  return (
    <section className="sticky top-0 z-10 mb-3 border border-line bg-paper px-4 py-2">
      <h2 className="sr-only">What differs</h2>
      <div className="flex flex-wrap items-center gap-2">
        <span className="font-semibold">What differs between</span>
        {choose(0, "First rig")} and {choose(1, "Second rig")}
        <span role="status">
          {found.length === 0
            ? "nothing; they are the same rig."
            : `${counted(found.length, "change")}: ${found.map(({ what }) => what).join("; ")}.`}
          {found.length > 1 && (
            <b> More than one change: their comparison proves nothing about either.</b>
          )}
        </span>
      </div>
      {rigs.length > 2 && <Pairs rigs={rigs} shown={[a, b]} onShow={setPair} />}
    </section>
  );
}

/** As many pairs as a line or two hold. */
const MOST = 28;

/** How many changes lie between each two rigs; those with one alone can be compared. */
function Pairs({
  rigs,
  shown,
  onShow,
}: {
  rigs: Rig[];
  shown: [number, number];
  onShow: (pair: [number, number]) => void;
}) {
  const pairs = rigs.flatMap((_, a) =>
    rigs.slice(a + 1).map((_, k): [number, number] => [a, a + 1 + k]),
  );
  return (
    <ToggleGroup.Root
      type="single"
      aria-label="Two rigs to compare"
      value={shown.join("-")}
      onValueChange={(next) => {
        const [a, b] = next.split("-").map(Number);
        if (a !== undefined && b !== undefined) onShow([a, b]);
      }}
      className="mt-1 flex flex-wrap gap-x-3 text-sm"
    >
      {pairs.slice(0, MOST).map(([a, b]) => {
        const count = differences(rigs[a]!, rigs[b]!).length;
        return (
          <ToggleGroup.Item
            key={`${a}-${b}`}
            value={`${a}-${b}`}
            className={`hover:underline data-[state=on]:underline ${count === 1 ? "font-semibold" : "text-secondary"}`}
          >
            {letterOf(a)}–{letterOf(b)} <span className="figure">{count}</span>
          </ToggleGroup.Item>
        );
      })}
      {pairs.length > MOST && (
        <span className="text-secondary">
          and {counted(pairs.length - MOST, "pair")} more, by the lists above
        </span>
      )}
    </ToggleGroup.Root>
  );
}
