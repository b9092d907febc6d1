import type { VerdictKind } from "@/core/judge/verdict";

/** The form of each verdict, beside its word: it never depends on colour. */
const SIGNS: Record<VerdictKind, string> = {
  Delivers: "✓",
  "Delivers in bursts only": "◐",
  "Falls short": "▽",
  "Falls short in this combination": "▿",
  "Can't tell yet": "?",
};

/** A verdict with the sign that stands for it. */
export function VerdictSign({ kind }: { kind: VerdictKind }) {
  return (
    <span className="whitespace-nowrap">
      <span aria-hidden className="figure mr-1.5 inline-block w-[1ch]">
        {SIGNS[kind]}
      </span>
      {kind}
    </span>
  );
}
