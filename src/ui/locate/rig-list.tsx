import type { ListedRig } from "@/core/answer/located-study";
import { Link } from "../controls/link";

/** More rigs than these are not taken in at a glance. */
const AT_FIRST = 40;

/** Rigs to be looked at one by one, those first of which there is most to say. */
export function RigList({
  rigs,
  shownId,
  hrefOf,
  allHref,
  rate,
}: {
  rigs: readonly ListedRig[];
  shownId: string;
  hrefOf: (rigId: string) => string;
  /** Where all are shown; null where they are. */
  allHref: string | null;
  rate: (mbps: number) => string;
}) {
  const first = allHref ? rigs.filter(({ rigId }, i) => i < AT_FIRST || rigId === shownId) : rigs;
  return (
    <>
      <ul className="divide-y divide-line">
        {first.map((one) => (
          <li key={one.rigId} className="py-1">
            <Link
              href={hrefOf(one.rigId)}
              aria-current={one.rigId === shownId ? "true" : undefined}
              className={`flex flex-wrap items-baseline gap-x-2 hover:underline ${one.rigId === shownId ? "font-semibold" : ""}`}
            >
              <span className="font-serif italic">{one.letter}</span>
              <span className="min-w-0 [overflow-wrap:anywhere]">{one.name}</span>
              <span className="figure ml-auto">{rate(one.observedMBps)}</span>
              <span className="w-full text-[13px] font-normal text-secondary">{one.words}</span>
            </Link>
          </li>
        ))}
      </ul>
      {allHref && first.length < rigs.length && (
        <Link className="mt-1 inline-block text-[14px] underline" href={allHref} scroll={false}>
          Show the other {rigs.length - first.length} too
        </Link>
      )}
    </>
  );
}
