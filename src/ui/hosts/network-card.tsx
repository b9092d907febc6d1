"use client";

import { useState } from "react";
import type { NetworkFigures } from "@/core/network/figures";
import {
  carriedWords,
  cautionsOf,
  ceilingWords,
  mannerWords,
  networkTable,
} from "@/core/network/network-words";
import { formatMoment } from "@/core/units/day";
import { formatDuration } from "@/core/units/number";
import { Button, Trouble } from "../controls/form";
import { Progress } from "../controls/progress";
import { Select } from "../controls/select";
import { sayFailed } from "../controls/toast";
import { useRates } from "../frame/unit";
import { FiguresTable } from "./figures-table";
import { useNetwork } from "./use-network";

/** What the network to a host carries by itself, and measuring it. */
export function NetworkCard({
  hostId,
  name,
  ownName,
  others,
}: {
  hostId: string;
  name: string;
  ownName: string;
  /** Other hosts that can be the end at this side. */
  others: readonly string[];
}) {
  const { state, start, stop } = useNetwork(hostId);
  const [from, setFrom] = useState("");
  if (!state) return null;
  const { going, figures, trouble } = state;
  const own = going?.to === name ? going : null;
  const fail = { onError: ({ message }: Error) => sayFailed(message) };
  return (
    <div className="mt-3 border-t border-line pt-2" data-network={name}>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <h3 className="mr-auto font-semibold">The network alone</h3>
        {!own && others.length > 0 && (
          <div className="w-48">
            <Select
              label="From"
              value={from}
              options={[
                { value: "", text: `from ${ownName}` },
                ...others.map((one) => ({ value: one, text: `from ${one}` })),
              ]}
              onChange={setFrom}
            />
          </div>
        )}
        {own ? (
          <Button onClick={() => stop.mutate(undefined, fail)}>Stop</Button>
        ) : (
          <Button
            disabled={start.isPending || going !== null}
            onClick={() => start.mutate(from || null, fail)}
          >
            {figures.length > 0 ? "Measure the network again" : "Measure the network"}
          </Button>
        )}
      </div>
      {own && (
        <div className="mt-2" role="status">
          <Progress label={`Network to ${name}`} value={own.passage} most={own.of} />
          <p>
            Between {own.from} and {own.to}: passage {own.passage + 1} of {own.of}, about{" "}
            {formatDuration(own.secondsLeft * 1000)} left
          </p>
        </div>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {figures.map((one) => (
        <Figures key={one.from} of={one} />
      ))}
      {figures.length === 0 && !own && (
        <p className="text-secondary">
          Not measured yet. The measurement goes from memory to memory over TCP, and takes about a
          minute. {name} takes connections at a port of its own for that time.
        </p>
      )}
    </div>
  );
}

function Figures({ of }: { of: NetworkFigures }) {
  const rates = useRates();
  return (
    <div className="mt-1">
      <p>
        Between {of.from} and {of.to} the network carries{" "}
        <span className="font-semibold">{carriedWords(of, rates)}</span>. {ceilingWords(of, rates)}
      </p>
      {cautionsOf(of).map((text) => (
        <p key={text} className="font-medium">
          ⚠ {text}
        </p>
      ))}
      <FiguresTable {...networkTable(of, rates)} />
      <p className="text-[13px] text-secondary">
        {mannerWords(of)}; measured {formatMoment(of.at)}
      </p>
    </div>
  );
}
