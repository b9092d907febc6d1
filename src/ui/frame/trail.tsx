import Link from "next/link";

/** Where the page stands: the way back to all studies, and the study's title. */
export function Trail({ title, simulated }: { title: string; simulated: boolean }) {
  return (
    <p className="absolute top-3.5 left-32 max-w-[calc(100%-600px)] truncate text-secondary">
      <Link href="/" className="hover:underline">
        Studies
      </Link>{" "}
      › <span className="text-ink">{title}</span>
      {simulated && " · simulated sample data"}
    </p>
  );
}
