"use client";

import { useRouter } from "next/navigation";
import { useRef } from "react";
import { formatNumber } from "@/core/units/number";
import { counted } from "@/core/units/counted";
import { Input } from "../controls/form";
import { Link } from "../controls/link";
import { useKey } from "../controls/use-key";

/** What of the list of studies is shown. */
export interface Shown {
  q: string;
  tag: string;
  aside: boolean;
  page: number;
}

const addressOf = ({ q, tag, aside, page }: Shown): string => {
  const query = new URLSearchParams({
    ...(q ? { q } : {}),
    ...(tag ? { tag } : {}),
    ...(aside ? { aside: "1" } : {}),
    ...(page > 0 ? { page: String(page) } : {}),
  });
  return query.size > 0 ? `/?${query}` : "/";
};

/** Finds studies by their words and tags, and shows those that are set aside. */
export function FindStudies({
  shown,
  tags,
  aside,
}: {
  shown: Shown;
  tags: readonly { tag: string; count: number }[];
  /** How many are set aside. */
  aside: number;
}) {
  const router = useRouter();
  const search = useRef<HTMLInputElement>(null);
  useKey("/", () => search.current?.focus());
  const choice = (text: string, next: Partial<Shown>, isOn: boolean) => (
    <Link
      key={text}
      href={addressOf({ ...shown, page: 0, ...next })}
      className={isOn ? "font-semibold text-ink" : "underline"}
      aria-current={isOn || undefined}
    >
      {text}
    </Link>
  );
  return (
    <div className="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-2 text-secondary">
      <Input
        ref={search}
        aria-label="Search the studies"
        placeholder="Search titles, notes, parts, findings  ( / )"
        defaultValue={shown.q}
        onChange={({ target }) =>
          router.replace(addressOf({ ...shown, q: target.value, page: 0 }), { scroll: false })
        }
        className="!w-80 max-w-full text-ink"
      />
      {tags.length > 0 && (
        <span className="flex flex-wrap gap-x-3">
          {choice("all tags", { tag: "" }, shown.tag === "")}
          {tags.map(({ tag, count }) =>
            choice(`${tag} (${formatNumber(count)})`, { tag }, shown.tag === tag),
          )}
        </span>
      )}
      {aside > 0 &&
        (shown.aside
          ? choice("Back to all studies", { aside: false, q: "" }, false)
          : choice(
              `${counted(aside, "study", "studies")} set aside`,
              { aside: true, q: "" },
              false,
            ))}
    </div>
  );
}

/** The way to the studies before and after those of a page. */
export function StudyPages({
  shown,
  pageSize,
  total,
}: {
  shown: Shown;
  pageSize: number;
  total: number;
}) {
  if (total <= pageSize) return null;
  const { page } = shown;
  const from = page * pageSize;
  return (
    <p className="mt-2 flex justify-end gap-3 text-secondary">
      {page > 0 && (
        <Link className="underline" href={addressOf({ ...shown, page: page - 1 })}>
          Before
        </Link>
      )}
      <span>
        {formatNumber(from + 1)} to {formatNumber(Math.min(total, from + pageSize))} of{" "}
        {formatNumber(total)}
      </span>
      {from + pageSize < total && (
        <Link className="underline" href={addressOf({ ...shown, page: page + 1 })}>
          After
        </Link>
      )}
    </p>
  );
}
