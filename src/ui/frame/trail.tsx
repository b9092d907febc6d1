import { Link } from "../controls/link";

/** Where the page stands: the way back to all studies, and the study's title, which leads to its answer. */
export function Trail({
  title,
  simulated,
  studyId,
}: {
  title: string;
  simulated: boolean;
  studyId: string;
}) {
  return (
    <p className="truncate pb-1.5 text-secondary md:absolute md:top-3.5 md:left-32 md:max-w-[calc(100%-600px)] md:pb-0">
      <Link href="/" className="hover:underline">
        Studies
      </Link>{" "}
      ›{" "}
      <Link href={`/studies/${studyId}`} className="text-ink hover:underline" data-study-title>
        {title}
      </Link>
      {simulated && " · simulated sample data"}
    </p>
  );
}
