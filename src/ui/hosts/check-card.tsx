"use client";

import { CHECK_MEANING, checkTable, checkWords, staleWords } from "@/core/machine/check-words";
import type { MachineCheck } from "@/core/machine/check";
import { formatMoment } from "@/core/units/day";
import { formatDuration } from "@/core/units/number";
import { Button, Trouble } from "../controls/form";
import { Fold } from "../controls/fold";
import { Progress } from "../controls/progress";
import { sayFailed } from "../controls/toast";
import { useRates } from "../frame/unit";
import { FiguresTable } from "./figures-table";
import { useCheck } from "./use-check";

/** What a machine carries without any drive, and checking it. */
export function CheckCard({ id, name }: { id: string; name: string }) {
  const { state, start, stop } = useCheck(id);
  if (!state) return null;
  const { going, check, kernel, trouble } = state;
  const own = going?.machine === name ? going : null;
  const stale = check && staleWords(check, kernel);
  const fail = { onError: ({ message }: Error) => sayFailed(message) };
  return (
    <div className="mt-3 border-t border-line pt-2" data-check={name}>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <h3 className="mr-auto font-semibold">What it can drive</h3>
        {own ? (
          <Button onClick={() => stop.mutate(undefined, fail)}>Stop</Button>
        ) : (
          <Button
            disabled={start.isPending || going !== null}
            onClick={() => start.mutate(undefined, fail)}
          >
            {check ? "Repeat this check" : "Check what it can drive"}
          </Button>
        )}
      </div>
      {own && (
        <div className="mt-2" role="status">
          <Progress label={`Check of ${name}`} value={own.step} most={own.of} />
          <p>
            Step {own.step + 1} of {own.of}, about {formatDuration(own.secondsLeft * 1000)} left
          </p>
        </div>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {stale && <p className="font-medium">⚠ {stale}</p>}
      {check && <Checked check={check} />}
      {!check && !own && (
        <p className="text-secondary">
          Not checked yet. A check takes about a minute and 256 MiB of memory, and touches no drive.
        </p>
      )}
    </div>
  );
}

function Checked({ check }: { check: MachineCheck }) {
  const rates = useRates();
  return (
    <div className="mt-1">
      <p>
        {check.machine} was shown to move{" "}
        <span className="font-semibold">{checkWords(check, rates)}</span>.
      </p>
      <p className="text-[13px] text-secondary">
        {CHECK_MEANING} Checked {formatMoment(check.at)}, kernel {check.kernel}.
      </p>
      <Fold summary="By size and number of requests" className="text-sm">
        <FiguresTable {...checkTable(check, rates)} />
      </Fold>
    </div>
  );
}
