import { MARKS } from "@/core/study/found-words";

/** A few words of a study, with those marked that were sought. */
export function Excerpt({ text }: { text: string }) {
  const [begin, end] = MARKS;
  return (
    <span className="mt-0.5 block text-[13px] text-secondary [overflow-wrap:anywhere]">
      {text.split(begin).map((piece, i) => {
        const [sought, rest] = i === 0 ? ["", piece] : piece.split(end);
        return (
          <span key={i}>
            {sought && <mark className="bg-bank font-semibold text-ink">{sought}</mark>}
            {rest}
          </span>
        );
      })}
    </span>
  );
}
