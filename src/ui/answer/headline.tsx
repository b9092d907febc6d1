import type { Segment } from "@/core/chain/wording";

/** Sentences that two lines hold at their usual size, characters. */
const USUAL = 190;

/** The finding that matters most, in a sentence or a few; the part that is shown to limit stands out. */
export function Headline({ sentences }: { sentences: readonly Segment[][] }) {
  const length = sentences.flat().reduce((sum, { text }) => sum + text.length, 0);
  return (
    <h1
      className={`min-w-0 self-start font-serif leading-[1.25] text-pretty [overflow-wrap:anywhere] ${length > USUAL ? "text-[19px]" : "text-[20px] md:text-[25px]"}`}
    >
      {sentences.map((segments, i) => (
        <span key={i}>
          {segments.map(({ text, bottleneck }, j) =>
            bottleneck ? (
              <em key={j} className="text-bottleneck">
                {text}
              </em>
            ) : (
              <span key={j}>{text}</span>
            ),
          )}{" "}
        </span>
      ))}
    </h1>
  );
}
