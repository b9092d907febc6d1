/** The files that something was read from. */
export function Sources({ from }: { from: readonly string[] }) {
  if (from.length === 0) return null;
  return (
    <span className="figure block text-[11px] break-all text-secondary">{from.join(", ")}</span>
  );
}
