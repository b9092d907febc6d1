import type { Metadata } from "next";
import { Link } from "@/ui/controls/link";
import { notFound } from "next/navigation";
import { services } from "@/services/services";
import { sheetColumns } from "@/services/shelf/part-page";
import { isProblem } from "@/services/problem";
import { PartPaper } from "@/ui/report/part-paper";

export const metadata: Metadata = { title: "A part on paper" };

/** The shelf card of a part, and the sheet of all its rigs side by side, to be printed. */
export default async function CardPage({ params }: { params: Promise<{ id: string }> }) {
  const { part, columns, usual } = open((await params).id);
  return (
    <>
      <p className="absolute top-3.5 left-32 truncate text-secondary">
        <Link href="/shelf" className="hover:underline">
          Shelf
        </Link>{" "}
        ›{" "}
        <Link href={`/parts/${part.id}`} className="hover:underline">
          {part.name}
        </Link>{" "}
        › <span className="text-ink">on paper</span>
      </p>
      <h1 className="sr-only">{part.name} on paper</h1>
      <PartPaper partId={part.id} columns={columns} usual={usual} />
    </>
  );
}

function open(id: string) {
  try {
    return sheetColumns(services().store, id);
  } catch (error) {
    if (isProblem(error) && error.status === 404) notFound();
    throw error;
  }
}
