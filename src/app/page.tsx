import Link from "next/link";
import { bench } from "@/bench/bench";
import { listStudies, measurementsOf } from "@/bench/studies";
import { answerFor } from "@/core/answer/study";
import { counted } from "@/core/units/counted";
import { NewStudy } from "@/ui/studies/new-study";
import { Thumbnail } from "@/ui/studies/thumbnail";

/** The first page: what Nerrit is for, every study with its answer, and a way to begin. */
export default function StudiesPage() {
  const { store } = bench();
  const studies = listStudies(store).map((open) => {
    const measurements = measurementsOf(store, open.study.id);
    const answer = (direction: "read" | "write") =>
      answerFor(open.study, open.rigs, measurements, direction);
    const reading = answer("read");
    const seen = reading.rigs.some(({ observation }) => observation);
    return { ...open, answer: seen ? reading : answer("write") };
  });
  return (
    <div className="mt-5 grid gap-8 lg:grid-cols-[minmax(0,1fr)_340px]">
      <section>
        <h1 className="mb-3 font-serif text-[28px] leading-tight text-pretty">
          Measure one drive through different ports, cables and enclosures, and read which part
          holds it back.
        </h1>
        <ul className="space-y-3">
          {studies.map(({ study, rigs, answer }) => (
            <li key={study.id}>
              <Link
                href={`/studies/${study.id}?direction=${answer.direction}`}
                className="grid grid-cols-[230px_minmax(0,1fr)] gap-5 border border-line bg-sheet p-4 hover:border-secondary"
              >
                {rigs.length > 0 ? (
                  <Thumbnail answer={answer} />
                ) : (
                  <span className="self-center text-secondary">no rigs yet</span>
                )}
                <span className="min-w-0">
                  <span className="block text-lg font-semibold [overflow-wrap:anywhere]">
                    {study.title}
                  </span>
                  <span className="block text-[13px] text-secondary">
                    {counted(rigs.length, "rig")}
                    {study.simulated &&
                      " · simulated sample data: open it to see what an answer looks like"}
                  </span>
                  <span className="mt-1 line-clamp-3 block font-serif text-[17px] leading-snug">
                    {answer.answer.sentences
                      .slice(0, 2)
                      .map((sentence) => sentence.map(({ text }) => text).join(""))
                      .join(" ")}
                  </span>
                </span>
              </Link>
            </li>
          ))}
        </ul>
      </section>
      <aside className="space-y-4">
        <NewStudy />
        <ol className="list-decimal space-y-1 pl-5 text-secondary">
          <li>
            Put the parts on the{" "}
            <Link href="/shelf" className="underline">
              shelf
            </Link>
            : port, cables, enclosure, drive.
          </li>
          <li>Order them to two rigs that differ in one part.</li>
          <li>Measure both on the real drive.</li>
          <li>Read which stage limits each, and whether the enclosure keeps its word.</li>
        </ol>
      </aside>
    </div>
  );
}
