import { Link } from "@/ui/controls/link";
import { briefOfStudy } from "@/services/conclusions/study-brief";
import { services } from "@/services/services";
import { listStudies } from "@/services/studies/studies";
import type { StudyBrief } from "@/core/answer/study-brief";
import { counted } from "@/core/units/counted";
import { HomeDrives } from "@/ui/plugged/home-drives";
import { DemoSwitch } from "@/ui/studies/demo-switch";
import { NewStudy } from "@/ui/studies/new-study";
import { RemoveStudy } from "@/ui/studies/remove-study";
import { TakeInStudy } from "@/ui/studies/take-in-study";
import { Thumbnail } from "@/ui/studies/thumbnail";
import { unitOfReader } from "./unit";

/** The first page: what Nerrit is for, every study with its answer, and a way to begin. */
export default async function StudiesPage() {
  const unit = await unitOfReader();
  const { store } = services();
  const studies = listStudies(store).map((open) => ({
    ...open,
    brief: briefOfStudy(store, open.study.id, unit),
  }));
  const own = studies.filter(({ study }) => !study.simulated);
  const sample = studies.filter(({ study }) => study.simulated);
  return (
    <div className="mt-5 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[minmax(0,1fr)_340px]">
      <section>
        <h1 className="mb-3 font-serif text-[28px] leading-tight text-pretty">
          Measure one drive through different ports, cables and enclosures, and read which part
          limits it.
        </h1>
        {own.length > 0 && <StudyList studies={own} />}
        {sample.length > 0 && (
          <>
            <h2 className="mt-5 mb-2 flex flex-wrap items-baseline gap-x-3">
              <span className="font-semibold">
                {own.length > 0
                  ? "Sample studies"
                  : "Sample studies, to see what an answer looks like"}
              </span>
              <span className="text-[13px] text-secondary">
                an invented field team; every run is simulated
              </span>
            </h2>
            <StudyList studies={sample} />
          </>
        )}
        <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
          <DemoSwitch there={sample.length > 0} />
          <Link href="/removed" className="text-secondary underline">
            What was removed
          </Link>
        </div>
      </section>
      <aside className="space-y-4">
        <NewStudy />
        {/* Drives come and go: what stands above them does not move. */}
        <HomeDrives />
        <TakeInStudy />
        <ol className="list-decimal space-y-1 pl-5 text-secondary">
          <li>
            Measure a connected drive, or put your parts on the{" "}
            <Link href="/shelf" className="underline">
              shelf
            </Link>
            : port, cables, enclosure, drive.
          </li>
          <li>Build two rigs that differ in one part.</li>
          <li>Measure both on the real drive.</li>
          <li>
            Read which part limits each rig, and whether the enclosure delivers its rated speed.
          </li>
        </ol>
      </aside>
    </div>
  );
}

type Shown = ReturnType<typeof listStudies>[number] & { brief: StudyBrief };

/** Studies, each with its drawing and what it found. */
function StudyList({ studies }: { studies: readonly Shown[] }) {
  return (
    <ul className="space-y-2">
      {studies.map(({ study, rigs, brief }) => (
        <li key={study.id} className="relative">
          <Link
            href={`/studies/${study.id}?direction=${brief.direction}`}
            className="grid gap-x-5 gap-y-2 md:grid-cols-[230px_minmax(0,1fr)] border border-line bg-sheet px-4 py-2.5 hover:border-secondary"
          >
            {rigs.length > 0 ? (
              <Thumbnail {...brief} />
            ) : (
              <span className="self-center text-secondary">no rigs yet</span>
            )}
            <span className="min-w-0">
              <span className="block text-[17px] leading-snug font-semibold [overflow-wrap:anywhere]">
                {study.title}
              </span>
              <span className="block text-[13px] text-secondary">
                {counted(rigs.length, "rig")}
                {study.simulated
                  ? ` · simulated · ${study.notes}`
                  : brief.hasSimulated && " · simulated runs among them"}
              </span>
              <span className="mt-0.5 font-serif text-base leading-snug">{brief.headline}</span>
            </span>
          </Link>
          {!study.simulated && <RemoveStudy id={study.id} title={study.title} />}
        </li>
      ))}
    </ul>
  );
}
