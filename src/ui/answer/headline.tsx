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
                {unbroken(text)}
              </em>
            ) : (
              <span key={j}>{unbroken(text)}</span>
            ),
          )}{" "}
        </span>
      ))}
    </h1>
  );
}

/** A figure stays on one line with its unit, and a letter with its rig. */
const unbroken = (text: string) =>
  text.replace(/(\d) (?=[GM]b\/s|MB\/s)/g, "$1\u00a0").replace(/\b(rigs?) (?=[A-Z])/g, "$1\u00a0");
