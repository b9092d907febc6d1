import { Link } from "../controls/link";
import type { ClaimsTold } from "@/core/judge/tell";
import { formatPercent } from "@/core/units/number";

/** What all claims of a study are worth, in one line that leads to Judge. */
export function ClaimsLine({
  told,
  tolerance,
  studyId,
}: {
  told: readonly ClaimsTold[];
  /** By how much a part may stay below a claim, as a share of it. */
  tolerance: number;
  studyId: string;
}) {
  const href = `/studies/${studyId}/judge`;
  return (
    <p className="flex flex-wrap items-baseline gap-x-6 gap-y-0.5" aria-label="Claims">
      {told.map(({ verdict, text }) => (
        <span
          key={verdict}
          className={verdict === "delivered" ? "font-semibold" : "text-secondary"}
        >
          {text}
        </span>
      ))}
      {told.length > 0 && (
        <span className="text-secondary">tolerance {formatPercent(tolerance)}</span>
      )}
      <Link href={href} className="ml-auto underline">
        {told.length > 0 ? "All claims" : "Enter what the boxes claim"}
      </Link>
    </p>
  );
}
