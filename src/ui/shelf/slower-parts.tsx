import { counted } from "@/core/units/counted";
import { Fold } from "../controls/fold";
import { Link } from "../controls/link";
import { RefreshWhile } from "../frame/refresh-while";

/** A part that became slower, in a sentence. */
export interface Slower {
  id: string;
  result: string;
}

/** So many are seen at once. */
const MOST_SHOWN = 3;

/** What became slower on the shelf, above its parts: whoever looks for a part sees it whatever page they are on. */
export function SlowerParts({ slower, waiting }: { slower: readonly Slower[]; waiting: number }) {
  const rest = slower.slice(MOST_SHOWN);
  return (
    <>
      {slower.length > 0 && (
        <section
          aria-label="Parts that became slower"
          className="mb-3 border border-line bg-sheet p-3"
        >
          <List slower={slower.slice(0, MOST_SHOWN)} />
          {rest.length > 0 && (
            <Fold
              summary={counted(
                rest.length,
                "more part that became slower",
                "more parts that became slower",
              )}
            >
              <List slower={rest} />
            </Fold>
          )}
        </section>
      )}
      <RefreshWhile going={waiting > 0}>
        Nerrit still reads the runs of {counted(waiting, "study", "studies")}. Warnings about slower
        parts may follow.
      </RefreshWhile>
    </>
  );
}

const List = ({ slower }: { slower: readonly Slower[] }) => (
  <ul>
    {slower.map(({ id, result }) => (
      <li key={id} className="flex flex-wrap gap-x-2">
        <span aria-hidden>⚠</span>
        <span>{result}</span>
        <Link className="underline" href={`/parts/${id}#over-time`}>
          See the evidence<span className="sr-only"> for: {result}</span>
        </Link>
      </li>
    ))}
  </ul>
);
