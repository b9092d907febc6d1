import type { Metadata } from "next";
import { bench } from "@/bench/bench";
import { PAGE_SIZE, searchShelf } from "@/bench/shelf";
import { PartKind } from "@/core/chain/part";
import { ShelfView } from "@/ui/shelf/shelf-view";

export const metadata: Metadata = { title: "Shelf" };

type Query = Promise<Record<"q" | "kind" | "page", string | string[] | undefined>>;

export default async function ShelfPage({ searchParams }: { searchParams: Query }) {
  const { q, kind: named, page: asked } = await searchParams;
  const sought = String(q ?? "");
  const page = Math.max(0, Math.trunc(Number(asked) || 0));
  const kind = PartKind.safeParse(named).data ?? null;
  const { parts, total } = searchShelf(bench().store, { sought, kind, page });
  return (
    <ShelfView
      parts={parts}
      total={total}
      sought={sought}
      kind={kind}
      page={page}
      pageSize={PAGE_SIZE}
    />
  );
}
