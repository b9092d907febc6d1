"use client";

import { Link } from "../controls/link";
import { useRouter } from "next/navigation";
import { capital } from "@/core/chain/wording";
import type { Opinion } from "@/core/locate/hypotheses/opinion";
import type { ShownNext } from "@/core/locate/findings/shown";
import { askedRigPath } from "@/core/study/asked-rig";
import { formatChance, formatNumber } from "@/core/units/number";
import { Fold } from "../controls/fold";
import { send } from "../controls/send";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { sayFailed } from "../controls/toast";
import { Toggle } from "../controls/toggle";
import { useRates } from "../frame/unit";
import { MakeStep } from "../plan/make-step";

/** The time that a step takes by hand. */
const minutesIn = (minutes: number): string =>
  minutes > 0 ? `about ${formatNumber(minutes)} min by hand` : "no hands needed";

/** The step that would tell most, what its outcomes would mean, and the others. */
export function NextSwaps({
  next,
  borrow,
  settled,
  isGroup,
  studyId,
  simulated,
  then,
  opinion,
}: {
  next: readonly ShownNext[];
  /** What would have to be borrowed to learn more. */
  borrow: { text: string; bits: number } | null;
  settled: boolean;
  /** Whether what holds the rig back is one of several that no swap here tells apart. */
  isGroup: boolean;
  studyId: string;
  /** Whether the study is sample data. */
  simulated: boolean;
  /** Where what changed is shown. */
  then: string;
  opinion: Opinion;
}) {
  const { said, rate } = useRates();
  const router = useRouter();
  const [best] = next;
  const borrowed = borrow && (
    <p className="mt-2 text-[15px]">
      A part that is not on the shelf would tell more: {borrow.text}.
    </p>
  );
  if (!best) {
    return (
      <>
        <p>
          {!settled
            ? "No change with the parts on the shelf would tell more."
            : isGroup
              ? "No swap with the parts on the shelf separates the causes that are left."
              : "Nothing is left to find out for this rig."}{" "}
          <Link className="underline" href={`/studies/${studyId}/judge`}>
            See what that means for the claims
          </Link>
        </p>
        {borrowed}
      </>
    );
  }
  const choose = async (fewest: Opinion["fewest"]) => {
    const sent = await send("PUT", "/api/opinion", { ...opinion, fewest });
    if (!sent.ok) return sayFailed(sent.error.message);
    router.refresh();
  };
  return (
    <>
      <p className="font-serif text-[19px] leading-snug">Next: {best.text}.</p>
      <ul className="my-1.5 space-y-0.5 text-[15px]">
        {best.outcomes.slice(0, 4).map(({ fromMBps, toMBps, probability, meaning }) => (
          <li key={fromMBps}>
            <span className="figure">
              {fromMBps > 0 ? `${rate(fromMBps)}–${said(toMBps)}` : `below ${said(toMBps)}`}
            </span>{" "}
            <span className="text-secondary">({formatChance(probability)})</span>: {meaning}
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <MakeStep studyId={studyId} ask={best.ask} simulated={simulated} then={then} />
        <span className="text-[13px] text-secondary">{minutesIn(best.minutes)}</span>
        <Link className="text-[14px] underline" href={askedRigPath(studyId, best.ask.rig)}>
          Open the rig
        </Link>
      </div>
      <div className="mt-2 flex items-center gap-2 text-[14px]">
        Order by{" "}
        <Toggle
          label="What the next step is chosen for"
          value={opinion.fewest}
          options={[
            { value: "steps", text: "fewest swaps" },
            { value: "minutes", text: "least time" },
          ]}
          onChange={(fewest) => void choose(fewest)}
        />
      </div>
      {borrowed}
      {next.length > 1 && (
        <Fold className="mt-2" summary={`Other steps (${next.length - 1})`}>
          <table className="mt-1 w-full text-sm">
            <thead>
              <tr>
                <th className={HEAD}>step</th>
                <th className={HEAD_RIGHT}>minutes by hand</th>
                <th className={HEAD}>
                  <span className="sr-only">plan</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {next.slice(1).map(({ text, minutes, ask }) => (
                <tr key={JSON.stringify(ask)}>
                  <td className={CELL}>{capital(text)}</td>
                  <td className={FIGURE}>{formatNumber(minutes)}</td>
                  <td className={`${CELL} whitespace-nowrap`}>
                    <MakeStep
                      studyId={studyId}
                      ask={ask}
                      simulated={simulated}
                      then={then}
                      look="plain"
                    >
                      {simulated ? "Simulate this step" : "Plan this step"}
                      <span className="sr-only">: {text}</span>
                    </MakeStep>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Fold>
      )}
    </>
  );
}
