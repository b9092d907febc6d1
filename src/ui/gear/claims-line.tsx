import { claimWords } from "@/core/chain/claim";
import type { ReadClaims } from "@/core/gear/claims/read-claims";

/** What a line of claims was understood as, and what is asked about the rest of it. */
export function UnderstoodClaims({
  read: { claims, doubts },
  onLine,
}: {
  read: ReadClaims;
  /** Takes an answer to what was asked: the whole line as it should read. */
  onLine: (line: string) => void;
}) {
  if (claims.length + doubts.length === 0) return null;
  return (
    <div className="text-[13px]" aria-live="polite">
      {claims.length > 0 && (
        <p data-understood className="text-secondary">
          understood: {claims.map((claim) => claimWords(claim)).join("; ")}
        </p>
      )}
      {doubts.map(({ what, instead }) => (
        <p key={what} className="flex flex-wrap items-baseline gap-x-2 font-semibold" role="alert">
          <span>✕ {what}</span>
          {instead.length > 0 && <span className="font-normal">Did you mean</span>}
          {instead.map(({ text, line }) => (
            <button key={text} type="button" className="underline" onClick={() => onLine(line)}>
              {text}
            </button>
          ))}
        </p>
      ))}
    </div>
  );
}
