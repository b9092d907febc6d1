import type { OpenTrace } from "../study/open-trace";
import type { Drop } from "./bursts";

/** What the trace of a long run says of its heat and of its last lasting drop. */
export function dropOf({ reading, readings }: Pick<OpenTrace, "reading" | "readings">): Drop {
  const degrees = readings.flatMap(({ celsius }) => Object.values(celsius));
  const hottest = degrees.length > 0 ? Math.max(...degrees) : null;
  if (!reading) return { cause: null, hottest };
  const { throttled, cacheEdge } = reading;
  const cause = throttled ? "heat" : (cacheEdge?.cause ?? (throttled === null ? "unknown" : null));
  const mark = reading.marks.find(({ name, open }) =>
    cause === "unknown" ? open : name === (cause === "heat" ? "throttled" : "folded"),
  );
  return {
    cause: cause && { kind: cause, because: mark ? [mark.text] : [] },
    hottest,
  };
}
