import type { Measurement, Run } from "@/core/study/measurement";
import { farLoadOf } from "@/core/reading/far-load";
import { movedLines, type FarLoad } from "@/core/run/far-host";
import { isHostFull, loadNowWords, loadWords } from "@/core/run/host-load";
import { Link } from "../../controls/link";
import { useRates } from "../../frame/unit";

/** What the machine does that serves the share, while a run goes on: whether its processor has time left. */
export function FarHostNow({ measurement: { rig, runs } }: { measurement: Measurement }) {
  const load = farLoadOf(runs.at(-1)?.readings ?? []);
  if (!rig.farHost) return null;
  const isFull = load !== null && isHostFull(load);
  return (
    // As high before the first look as after it: nothing below moves from under a press.
    <div
      data-far-host={rig.farHost}
      className={`min-h-16 border-l-[3px] px-3 py-2 ${isFull ? "border-ink bg-bank font-medium" : "border-line"}`}
    >
      {load ? (
        <Load load={load} words={loadNowWords(load)} />
      ) : (
        <p className="text-secondary">
          Nothing is seen yet of {rig.farHost}, the far host. It is looked at where it is one of the{" "}
          <Link href="/hosts" className="underline">
            hosts
          </Link>
          .
        </p>
      )}
    </div>
  );
}

/** What the far host did in each run; nothing where nobody looked. */
export function FarHostsThen({ runs }: { runs: readonly Run[] }) {
  const seen = runs.flatMap(({ id, repeat, result, readings }) => {
    const load = result?.farHost ?? farLoadOf(readings);
    return load ? [{ id, repeat, load }] : [];
  });
  if (seen.length === 0) return null;
  return (
    <div className="mt-2" data-far-hosts>
      <h3 className="font-semibold">The far host meanwhile</h3>
      <ul>
        {seen.map(({ id, repeat, load }) => (
          <li key={id}>
            {runs.length > 1 && `in repeat ${repeat + 1}: `}
            <Load load={load} words={loadWords(load)} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Load({ load, words }: { load: FarLoad; words: string }) {
  const rates = useRates();
  return (
    <>
      <span className="font-semibold">{load.host}:</span> {words || "its cores are not counted"}
      <span className="block text-[13px] font-normal text-secondary">
        {movedLines(load, rates).join(" · ")}
      </span>
    </>
  );
}
