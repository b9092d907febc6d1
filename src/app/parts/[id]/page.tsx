import { Link } from "@/ui/controls/link";
import { notFound } from "next/navigation";
import { services } from "@/services/services";
import { answerQuestion, openComparedOf, tracesOf } from "@/services/conclusions/comparison";
import { isProblem } from "@/services/problem";
import { called, capital } from "@/core/chain/wording";
import { questionFrom } from "@/core/compare/question";
import { counted } from "@/core/units/counted";
import { driftOfPart } from "@/services/parts/part-drift";
import { OverTime } from "@/ui/drift/over-time";
import { CompareView } from "@/ui/compare/compare-view";
import { drawnOf, type Query } from "../../studies/[id]/study";

export const metadata = { title: "A part in all its rigs" };

/** A part of the shelf through everything it stands in, over all studies. */
export default async function PartPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Query;
}) {
  const { part, compared } = open((await params).id);
  const question = questionFrom(await searchParams);
  const shown = answerQuestion(services().store, compared, question);
  return (
    <>
      <p className="absolute top-3.5 left-32 truncate text-secondary">
        <Link href="/shelf" className="hover:underline">
          Shelf
        </Link>{" "}
        › <span className="text-ink">{part.name}</span>
      </p>
      <p className="mt-3 text-secondary">
        {capital(called(part))} stands in {counted(compared.rigs.length, "rig")} of all studies.{" "}
        <Link className="underline" href={`/parts/${part.id}/card`}>
          Its shelf card, and all its rigs on paper
        </Link>
      </p>
      <OverTime {...driftOfPart(services().store, part.id)} />
      <CompareView
        studyId={null}
        question={question}
        shown={shown}
        drawn={question.view === "narrows" ? drawnOf(compared, shown) : []}
        traces={question.view === "traces" ? tracesOf(services().store, shown) : []}
        leftOut={[]}
      />
    </>
  );
}

function open(id: string) {
  try {
    return openComparedOf(services().store, id);
  } catch (error) {
    if (isProblem(error) && error.status === 404) notFound();
    throw error;
  }
}
