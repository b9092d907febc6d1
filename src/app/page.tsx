import { Link } from "@/ui/controls/link";
import { RefreshWhile } from "@/ui/frame/refresh-while";
import { briefsKnown } from "@/services/conclusions/study-brief";
import { services } from "@/services/services";
import { pageOfStudies, STUDIES_A_PAGE } from "@/services/studies/search";
import { sampleStudies } from "@/services/studies/demo";
import { openStudy } from "@/services/studies/studies";
import { counted } from "@/core/units/counted";
import { HomeDrives } from "@/ui/plugged/home-drives";
import { DemoSwitch } from "@/ui/studies/demo-switch";
import { FindStudies, StudyPages } from "@/ui/studies/find-studies";
import { NewStudy } from "@/ui/studies/new-study";
import { StudyList, type ShownStudy } from "@/ui/studies/study-list";
import { TakeInStudy } from "@/ui/studies/take-in-study";
import { unitOfReader } from "./unit";

type Query = Promise<Record<"q" | "tag" | "aside" | "page", string | string[] | undefined>>;

/** Fewer studies than these are seen at a glance: nobody searches among them. */
const FEW = 4;

/** More pages than anybody has studies for. */
const MOST_PAGES = 100_000;

/** The first page: what Nerrit is for, the studies with their answers, and a way to begin. */
export default async function StudiesPage({ searchParams }: { searchParams: Query }) {
  const unit = await unitOfReader();
  const { store } = services();
  const asked = await searchParams;
  const said = (value: string | string[] | undefined) => (typeof value === "string" ? value : "");
  const shown = {
    q: said(asked.q),
    tag: said(asked.tag),
    aside: asked.aside === "1",
    page: Math.min(Math.max(0, Math.trunc(Number(asked.page)) || 0), MOST_PAGES),
  };
  const found = pageOfStudies(store, { ...shown, sought: shown.q });
  const samples = sampleStudies(store);
  const ids = [...found.studies, ...samples].map(({ study }) => study.id);
  const briefs = briefsKnown(store, ids, unit);
  const own = found.studies.map(({ study, excerpt }): ShownStudy => {
    const rigs = openStudy(store, study.id).rigs.length;
    return { study, rigs, excerpt, brief: briefs.get(study.id) ?? null };
  });
  const sample = samples.map(({ study, rigs }): ShownStudy => {
    return { study, rigs: rigs.length, excerpt: "", brief: briefs.get(study.id) ?? null };
  });
  const isSearched = shown.q !== "" || shown.tag !== "" || shown.aside || shown.page > 0;
  return (
    <div className="mt-5 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[minmax(0,1fr)_340px]">
      <section>
        <h1 className="mb-3 font-serif text-[28px] leading-tight text-pretty">
          Measure one drive through different ports, cables and enclosures, and read which part
          limits it.
        </h1>
        {(found.own > FEW || found.aside > 0 || isSearched) && (
          <FindStudies shown={shown} tags={found.tags} aside={found.aside} />
        )}
        {own.length > 0 && <StudyList studies={own} />}
        {own.length === 0 && isSearched && (
          <p className="border border-line bg-sheet p-4">
            {shown.q ? `No study holds “${shown.q}”.` : "No study is here."}{" "}
            <Link href="/" className="underline">
              See all studies
            </Link>
          </p>
        )}
        <RefreshWhile going={briefs.size < ids.length}>
          Nerrit still works out the answers of{" "}
          {counted(ids.length - briefs.size, "study", "studies")}.
        </RefreshWhile>
        <RefreshWhile going={found.waiting > 0}>
          Nerrit still reads the words of {counted(found.waiting, "study", "studies")}. More studies
          may be found.
        </RefreshWhile>
        <StudyPages shown={shown} pageSize={STUDIES_A_PAGE} total={found.total} />
        {sample.length > 0 && !isSearched && (
          <>
            <h2 className="mt-5 mb-2 flex flex-wrap items-baseline gap-x-3">
              <span className="font-semibold">
                {found.own > 0
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
