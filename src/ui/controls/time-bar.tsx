/** A length of time as a bar; what was waited is filled. */
export function TimeBar({
  seconds,
  waited,
  longest,
}: {
  seconds: number;
  waited: number;
  longest: number;
}) {
  const share = (part: number, of: number) => `${of > 0 ? Math.min(100, (100 * part) / of) : 0}%`;
  return (
    <div className="h-3 border border-line" style={{ width: share(seconds, longest) }}>
      <div className="h-full bg-flow" style={{ width: share(waited, seconds) }} />
    </div>
  );
}
