import type { Segment } from "@/core/chain/wording";

/** What can be taken in at a glance, characters; the rest stands smaller below. */
const AT_A_GLANCE = 420;

/** The answer in words; what limits stands in the narrows' colour and in italics. */
export function Sentence({ sentences }: { sentences: Segment[][] }) {
  const lengths = sentences.map((segments) => segments.reduce((n, { text }) => n + text.length, 0));
  const first = sentences.filter(
    (_, i) => i === 0 || lengths.slice(0, i + 1).reduce((sum, n) => sum + n, 0) <= AT_A_GLANCE,
  );
  const rest = sentences.slice(first.length);
  return (
    <div>
      <h1 className="font-serif text-[25px] leading-[1.28] text-pretty">
        <Words sentences={first} />
      </h1>
      {rest.length > 0 && (
        <p className="mt-1.5 font-serif text-base leading-snug text-pretty">
          <Words sentences={rest} />
        </p>
      )}
    </div>
  );
}

const Words = ({ sentences }: { sentences: Segment[][] }) =>
  sentences.map((segments, i) => (
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
  ));
