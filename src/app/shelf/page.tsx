import type { Metadata } from "next";
import { bench } from "@/bench/bench";
import { PAGE_SIZE, searchShelf } from "@/bench/shelf";
import { ShelfView } from "@/ui/shelf/shelf-view";

export const metadata: Metadata = { title: "Shelf" };

type Query = Promise<{ q?: string | string[]; page?: string | string[] }>;

export default async function ShelfPage({ searchParams }: { searchParams: Query }) {
  const { q, page: asked } = await searchParams;
  const sought = String(q ?? "");
  const page = Math.max(0, Math.trunc(Number(asked) || 0));
  const { parts, total } = searchShelf(bench().store, { sought, page });
  return <ShelfView parts={parts} total={total} sought={sought} page={page} pageSize={PAGE_SIZE} />;
}
