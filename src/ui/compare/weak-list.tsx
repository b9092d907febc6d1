import { Link } from "../controls/link";
import type { Weakness } from "@/core/compare/weak";
import { askedRigPath } from "@/core/study/asked-rig";
import { list } from "@/core/chain/wording";

/** At first; what follows is folded away in the page. */
const MOST = 8;

/** What is weak about an answer, and what would make it sound. */
export function WeakList({ weak, studyId }: { weak: readonly Weakness[]; studyId: string | null }) {
  if (weak.length === 0) return null;
  return (
    <section className="mt-3 border-l-[3px] border-ink bg-bank px-4 py-2">
      <h2 className="font-semibold">What is weak about this comparison</h2>
      <ul className="mt-0.5 space-y-1">
        {weak.slice(0, MOST).map(({ what, letters, cure, rig }) => (
          <li key={what}>
            <span className="font-serif italic">
              {letters.length > 12 ? `${letters.length} rigs` : list(letters)}
            </span>
            : {what}.
            {cure && (
              <>
                {" "}
                <span className="font-medium">To make it sound: {cure}.</span>
                {rig && studyId && (
                  <>
                    {" "}
                    <Link className="underline" href={askedRigPath(studyId, rig)}>
                      Build this rig
                    </Link>
                  </>
                )}
              </>
            )}
          </li>
        ))}
        {weak.length > MOST && (
          <li className="text-secondary">and {weak.length - MOST} more of the kind</li>
        )}
      </ul>
    </section>
  );
}
