import { Link } from "../controls/link";
import type { ReactNode } from "react";

/** What a page says where it has nothing to show yet: why, and the button for what to do next. */
export function EmptyPage({
  children,
  href,
  action,
}: {
  children: ReactNode;
  /** Where the button leads. */
  href: string;
  /** What it does, as a verb and its object. */
  action: string;
}) {
  return (
    <div className="mt-4 border border-line bg-sheet p-6">
      <p className="mb-3 max-w-2xl">{children}</p>
      <Link
        href={href}
        className="inline-block rounded-sm bg-ink px-3 py-1 font-semibold text-paper hover:opacity-90"
      >
        {action}
      </Link>
    </div>
  );
}
