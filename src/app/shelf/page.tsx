import type { Metadata } from "next";
import { bench } from "@/bench/bench";
import { shelf } from "@/bench/shelf";
import { ShelfView } from "@/ui/shelf/shelf-view";

export const metadata: Metadata = { title: "Shelf" };

export default function ShelfPage() {
  return <ShelfView parts={shelf(bench().store)} />;
}
