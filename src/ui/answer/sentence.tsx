import type { Segment } from "@/core/answer/wording";

/** The answer in words; what limits stands in the narrows' colour and in italics. */
export function Sentence({ sentences }: { sentences: Segment[][] }) {
  return (
    <h1 className="font-serif text-[25px] leading-[1.28] text-pretty">
      {sentences.map((segments, i) => (
        <span key={i}>
          {segments.map((segment, j) =>
            segment.narrows ? (
              <em key={j} className="text-narrows">
                {segment.text}
              </em>
            ) : (
              <span key={j}>{segment.text}</span>
            ),
          )}{" "}
        </span>
      ))}
    </h1>
  );
}
