import type { Metadata } from "next";
import { services } from "@/services/services";
import { PAGE_SIZE, searchShelf, shelf } from "@/services/shelf/shelf";
import { PartKind } from "@/core/chain/part";
import { slowerParts } from "@/services/parts/part-drift";
import { ShelfView } from "@/ui/shelf/shelf-view";

export const metadata: Metadata = { title: "Shelf" };

const GEAR = ["own", "sample", "all"] as const;

type Query = Promise<Record<"q" | "kind" | "page" | "gear", string | string[] | undefined>>;

export default async function ShelfPage({ searchParams }: { searchParams: Query }) {
  const { q, kind: named, page: asked, gear: which } = await searchParams;
  const sought = String(q ?? "");
  const page = Math.max(0, Math.trunc(Number(asked) || 0));
  const kind = PartKind.safeParse(named).data ?? null;
  const { store } = services();
  const all = shelf(store);
  const [own, sample] = [all.some(({ demo }) => !demo), all.some(({ demo }) => demo)];
  // As soon as there is anything of the tester's own, the sample data stands aside.
  const usual = own || !sample ? "own" : "sample";
  const gear = GEAR.find((one) => one === which) ?? usual;
  const { parts, total } = searchShelf(store, { sought, kind, page, gear });
  const { changes, brief, waiting } = slowerParts(
    store,
    ({ demo, retired }) => !retired && (gear === "all" || demo === (gear === "sample")),
  );
  return (
    <ShelfView
      slower={changes.map(({ drift, words }) => ({ id: drift.of, result: words.result }))}
      waiting={waiting}
      parts={parts.map((part) => ({ ...part, slower: brief[part.id] ?? "" }))}
      total={total}
      sought={sought}
      kind={kind}
      page={page}
      pageSize={PAGE_SIZE}
      gear={sample ? gear : null}
    />
  );
}
