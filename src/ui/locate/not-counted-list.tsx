import { Link } from "../controls/link";
import type { NotCounted } from "@/core/locate/observations/not-counted";

/** What was measured and does not count, or for little, each with its reason. */
export function NotCountedList({
  list,
  studyId,
}: {
  list: readonly NotCounted[];
  studyId: string;
}) {
  return (
    <ul className="mt-1 space-y-1 text-[14px]">
      {list.map(({ why, text, measurementIds }) => (
        <li key={why}>
          <span className="font-medium">{text}</span> <span className="text-secondary">{why}.</span>{" "}
          {measurementIds[0] && (
            <Link
              className="text-[13px] underline"
              href={`/studies/${studyId}/measure?m=${measurementIds[0]}`}
            >
              runs
            </Link>
          )}
        </li>
      ))}
    </ul>
  );
}
