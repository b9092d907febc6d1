import { Link } from "../controls/link";
import { capital } from "@/core/chain/wording";
import type { ShownPlace } from "@/core/locate/findings/shown";
import type { Evidence } from "@/core/locate/findings/for-and-against";
import { counted } from "@/core/units/counted";
import { formatChance } from "@/core/units/number";
import { Fold } from "../controls/fold";

/** Explanations less likely than this are folded away. */
const WORTH_A_LOOK = 0.03;

/** What may hold a rig back, the likeliest first, with what speaks for and against it. */
export function Explanations({
  places,
  studyId,
}: {
  places: readonly ShownPlace[];
  studyId: string;
}) {
  const shown = places.filter(({ probability }) => probability >= WORTH_A_LOOK);
  const rest = places.filter((place) => !shown.includes(place));
  const list = (these: readonly ShownPlace[]) => (
    <ol className="space-y-2.5">
      {these.map((place) => (
        <li
          key={place.key}
          className="grid grid-cols-[64px_minmax(0,1fr)] md:grid-cols-[96px_minmax(0,1fr)] gap-x-3"
        >
          <span className="figure pt-0.5 text-right text-[17px]">
            {formatChance(place.probability)}
          </span>
          <div>
            <p>
              <b className="font-semibold">{capital(place.texts[0]!)}</b>
              <span className="text-secondary"> · {place.likelihood}</span>
            </p>
            {place.texts.length > 1 && (
              <p className="text-[13px] text-secondary">
                {place.together ? "no run on this shelf tells apart: " : "or "}
                {place.texts.slice(1).join("; ")}
                {place.toPart && `. To part them, borrow ${place.toPart}.`}
              </p>
            )}
            <Sentences what="for" list={place.for} studyId={studyId} />
            <Sentences what="against" list={place.against} studyId={studyId} />
          </div>
        </li>
      ))}
    </ol>
  );
  return (
    <>
      {list(shown)}
      {rest.length > 0 && (
        <Fold className="mt-2" summary={`${counted(rest.length, "cause")} less likely than 3 %`}>
          <div className="mt-2">{list(rest)}</div>
        </Fold>
      )}
    </>
  );
}

function Sentences({
  what,
  list,
  studyId,
}: {
  what: "for" | "against";
  list: readonly Evidence[];
  studyId: string;
}) {
  return list.slice(0, 4).map(({ text, measurementIds }) => (
    <p key={text} className="text-[14px]">
      <span className="text-secondary">{what}: </span>
      {text}{" "}
      {measurementIds[0] && (
        <Link
          className="text-[13px] underline"
          href={`/studies/${studyId}/measure?m=${measurementIds[0]}`}
        >
          runs
        </Link>
      )}
    </p>
  ));
}
