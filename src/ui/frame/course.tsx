import Link from "next/link";

/** One stage of a study, with how it stands in words. */
export interface CourseStage {
  name: string;
  state: string;
  href: string;
  done: boolean;
}

/** The stages of a study in the order of the work. */
export function Course({ stages, current }: { stages: CourseStage[]; current: string }) {
  return (
    <nav aria-label="Course of the study">
      <ol
        className="grid"
        style={{ gridTemplateColumns: `repeat(${stages.length}, minmax(0, 1fr))` }}
      >
        {stages.map(({ name, state, href, done }) => (
          <li
            key={name}
            className={`border-t-[3px] pt-1.5 pr-3 ${done ? "border-solid border-flow" : "border-dashed border-hatch"}`}
          >
            <Link
              href={href}
              aria-current={name === current ? "page" : undefined}
              className="block hover:underline"
            >
              <span
                className={`text-[17px] font-semibold ${name === current ? "border-b-[5px] border-flow/40" : ""}`}
              >
                {name}
              </span>
              {/* A line of its own, also while it is not known: what stands below does not move. */}
              <span className="block min-h-[1.35em] text-secondary">{state}</span>
            </Link>
          </li>
        ))}
      </ol>
    </nav>
  );
}
