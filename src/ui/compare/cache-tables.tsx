"use client";

import { jobAt, tellCache, tellFit, tellRest } from "@/core/compare/cache-words";
import type { CacheFill, CacheShown } from "@/core/compare/caches";
import { formatAbout, formatPercent } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { Link } from "../controls/link";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { CachePicture } from "./cache-picture";

const size = (bytes: number) => formatSize(Number(bytes.toPrecision(3)), 1000);

/** Caches of drives over their free space, what a job meets there, and how long a drive has to rest. */
export function CacheTables({
  caches,
  gigabytes,
}: {
  caches: readonly CacheShown[];
  /** The tester's own job, as asked elsewhere on the page. */
  gigabytes: number;
}) {
  if (caches.length === 0) return null;
  return (
    <section className="mt-5" id="cache">
      <h2 className="font-serif text-xl">Cache against free space</h2>
      {caches.map((cache) => (
        <OneCache key={cache.driveId} cache={cache} job={gigabytes * 1e9} />
      ))}
    </section>
  );
}

function OneCache({ cache, job }: { cache: CacheShown; job: number }) {
  const { fills, fit } = cache;
  const rest = tellRest(cache, job);
  return (
    <div className="mt-2" data-cache={cache.driveId}>
      <p className="max-w-4xl font-serif text-[19px] leading-snug [overflow-wrap:anywhere]">
        {tellCache(cache)}
      </p>
      {rest && <p className="mt-1">{rest}</p>}
      {fills.length > 0 && (
        <div className="mt-2 grid gap-4 border border-line bg-sheet px-4 py-3 lg:grid-cols-2">
          <CachePicture cache={cache} />
          <FillTable fills={fills} job={job} />
        </div>
      )}
      {fit && <p className="mt-1 text-[13px] text-secondary">{tellFit(fit)}</p>}
      {fills.length > 0 && (
        <p className="text-[13px] text-secondary">
          Freed space counts for a drive only once the system has trimmed the drive.
        </p>
      )}
    </div>
  );
}

function FillTable({ fills, job }: { fills: readonly CacheFill[]; job: number }) {
  const { rate, unit } = useRates();
  return (
    <div className="overflow-x-auto">
      <table className="w-full">
        <thead>
          <tr>
            <th className={HEAD}>rig</th>
            <th className={HEAD_RIGHT}>free</th>
            <th className={HEAD_RIGHT}>cache</th>
            <th className={HEAD_RIGHT}>a job of {size(job)}</th>
            <th className={HEAD_RIGHT}>full rate, {unit}</th>
            <th className={HEAD_RIGHT}>after it, {unit}</th>
          </tr>
        </thead>
        <tbody>
          {fills.map((fill) => {
            const seconds = jobAt(job, fill);
            return (
              <tr key={fill.runId}>
                <td className={CELL}>
                  <Link
                    className="whitespace-nowrap underline"
                    href={`/runs/${encodeURIComponent(fill.runId)}`}
                  >
                    <span className="font-serif italic">{fill.letter}</span>
                    {fill.level === null
                      ? ", without ballast"
                      : `, ${formatPercent(fill.level)} full`}
                  </Link>
                </td>
                <td className={FIGURE}>{size(fill.freeBytes)}</td>
                <td className={`${FIGURE} font-semibold`}>
                  {fill.edge ? size(fill.cacheBytes) : `over ${size(fill.cacheBytes)}`}
                </td>
                <td className={FIGURE}>
                  {job > fill.freeBytes
                    ? "does not fit"
                    : seconds === null
                      ? "–"
                      : formatAbout(seconds)}
                </td>
                <td className={FIGURE}>{rate(fill.fullMBps)}</td>
                <td className={FIGURE}>{fill.afterMBps === null ? "–" : rate(fill.afterMBps)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
