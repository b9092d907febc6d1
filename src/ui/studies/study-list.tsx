import type { StudyBrief } from "@/core/answer/study-brief";
import type { Study } from "@/core/study/study";
import { counted } from "@/core/units/counted";
import { Link } from "../controls/link";
import { Excerpt } from "./excerpt";
import { StudyActions } from "./study-actions";
import { Thumbnail } from "./thumbnail";

/** A study with what the list shows of it. */
export interface ShownStudy {
  study: Study;
  rigs: number;
  /** Null while the answer is being worked out. */
  brief: StudyBrief | null;
  /** A few words around those that were sought; empty where none were. */
  excerpt: string;
}

/** Studies, each with its drawing and what it found. */
export function StudyList({ studies }: { studies: readonly ShownStudy[] }) {
  return (
    <ul className="space-y-2">
      {studies.map(({ study, rigs, brief, excerpt }) => (
        <li
          key={study.id}
          className="border border-line bg-sheet hover:border-secondary md:flex md:justify-between"
        >
          <Link
            href={`/studies/${study.id}${brief ? `?direction=${brief.direction}` : ""}`}
            className="grid min-w-0 grow gap-x-5 gap-y-2 px-4 py-2.5 md:grid-cols-[230px_minmax(0,1fr)]"
          >
            {rigs === 0 || !brief ? (
              <span className="self-center text-secondary">
                {rigs === 0 ? "no rigs yet" : "the answer is being worked out"}
              </span>
            ) : (
              <Thumbnail {...brief} />
            )}
            <span className="min-w-0">
              <span className="block text-[17px] leading-snug font-semibold [overflow-wrap:anywhere]">
                {study.title}
              </span>
              <span className="block text-[13px] text-secondary">
                {counted(rigs, "rig")}
                {study.simulated
                  ? ` · simulated · ${study.notes}`
                  : brief?.hasSimulated && " · simulated runs among them"}
                {study.asideSince && " · set aside"}
                {study.tags?.map((tag) => ` · ${tag}`)}
              </span>
              <span className="mt-0.5 font-serif text-base leading-snug">{brief?.headline}</span>
              {excerpt && <Excerpt text={excerpt} />}
            </span>
          </Link>
          {!study.simulated && (
            <StudyActions
              study={{
                id: study.id,
                title: study.title,
                tags: study.tags ?? [],
                isAside: typeof study.asideSince === "string",
              }}
            />
          )}
        </li>
      ))}
    </ul>
  );
}
