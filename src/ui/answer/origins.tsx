import { Link } from "../controls/link";
import { Origin, type BriefMeasurement } from "@/core/study/measurement";
import { counted } from "@/core/units/counted";

/** Where a study's runs come from, where that is not one and the same: each can be looked at alone. */
export function Origins({
  measurements,
  shown,
  query,
}: {
  measurements: readonly BriefMeasurement[];
  shown: Origin | null;
  query: Record<string, string>;
}) {
  const counts = Origin.options.flatMap((origin) => {
    const runs = measurements
      .filter((one) => one.origin === origin)
      .reduce((sum, { runs: all }) => sum + all.filter(({ result }) => result).length, 0);
    return runs > 0 ? [{ origin, runs }] : [];
  });
  if (counts.length < 2) return null;
  const link = (origin: Origin | null, words: string) => (
    <Link
      key={words}
      href={`?${new URLSearchParams({ ...query, ...(origin ? { origin } : {}) })}`}
      scroll={false}
      aria-current={origin === shown ? "true" : undefined}
      className={origin === shown ? "font-semibold text-ink" : "underline"}
    >
      {words}
    </Link>
  );
  return (
    <p className="flex flex-wrap gap-x-3 text-sm text-secondary">
      <span>Runs:</span>
      {link(null, "all")}
      {counts.map(({ origin, runs }) => link(origin, `${origin} (${counted(runs, "run")})`))}
    </p>
  );
}
