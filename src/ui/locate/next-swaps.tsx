"use client";

import Link from "next/link";
import { capital } from "@/core/answer/wording";
import type { ShownNext } from "@/core/locate/shown";
import { askedRigPath } from "@/core/study/asked-rig";
import { formatNumber, formatChance } from "@/core/units/number";
import { Fold } from "../controls/fold";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";

/** The change that would tell most, what its outcomes would mean, and the others. */
export function NextSwaps({
  next,
  settled,
  studyId,
}: {
  next: readonly ShownNext[];
  settled: boolean;
  studyId: string;
}) {
  const { said, rate } = useRates();
  const [best] = next;
  if (!best) {
    return (
      <p className="text-secondary">
        {settled
          ? "Nothing is left to find out here."
          : "No single change with what is on the shelf would tell more. Another part of a kind that stands here only once would."}
      </p>
    );
  }
  return (
    <>
      <p className="font-serif text-[19px] leading-snug">Next: {best.text}.</p>
      <ul className="my-1.5 space-y-0.5 text-[15px]">
        {best.outcomes.slice(0, 4).map(({ fromMBps, toMBps, probability, meaning }) => (
          <li key={fromMBps}>
            <span className="figure">
              {rate(fromMBps)}–{said(toMBps)}
            </span>{" "}
            <span className="text-secondary">({formatChance(probability)})</span>: {meaning}
          </li>
        ))}
      </ul>
      <Link
        href={askedRigPath(studyId, best.asked)}
        className="inline-block rounded-sm bg-ink px-3 py-1 font-semibold text-paper"
      >
        Put it together
      </Link>{" "}
      <span className="text-[13px] text-secondary">
        about {formatNumber(best.minutes)} min by hand; {formatNumber(best.bits, 2)} bits
      </span>
      {next.length > 1 && (
        <Fold className="mt-2" summary={`Other changes (${next.length - 1})`}>
          <table className="mt-1 w-full text-sm">
            <thead>
              <tr>
                <th className={HEAD}>change</th>
                <th className={HEAD_RIGHT}>tells, bits</th>
                <th className={HEAD_RIGHT}>minutes</th>
                <th className={HEAD}>
                  <span className="sr-only">rig</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {next.slice(1).map(({ text, bits, minutes, asked }) => (
                <tr key={JSON.stringify(asked)}>
                  <td className={CELL}>{capital(text)}</td>
                  <td className={FIGURE}>{formatNumber(bits, 2)}</td>
                  <td className={FIGURE}>{formatNumber(minutes)}</td>
                  <td className={CELL}>
                    <Link className="underline" href={askedRigPath(studyId, asked)}>
                      Put together<span className="sr-only">: {text}</span>
                    </Link>
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
