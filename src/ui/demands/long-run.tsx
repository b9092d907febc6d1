import { Link } from "../controls/link";
import { LONGEST } from "@/core/locate/observations/signs/fall";
import type { Direction } from "@/core/units/rate";

/** Where a short run is fast enough for a demand: the run that would tell whether that lasts. */
export function LongRun({
  studyId,
  rigId,
  direction,
}: {
  studyId: string;
  rigId: string;
  direction: Direction;
}) {
  const query = new URLSearchParams({ rig: rigId, drill: LONGEST, direction });
  return (
    <span className="block text-[13px]">
      fast enough in a short run;{" "}
      <Link className="underline" href={`/studies/${studyId}/measure?${query}`}>
        a long run
      </Link>{" "}
      would tell whether that lasts
    </span>
  );
}
