import { redirect } from "next/navigation";
import { services } from "@/services/services";
import { studyOfRun } from "@/services/conclusions/comparison";
import { isProblem } from "@/services/problem";
import { respond, type Params } from "../../api/respond";

/** Leads to a run's trace in its study; further runs to lay over it stand in ?run=. */
export async function GET(request: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  const query = new URLSearchParams([["run", id]]);
  for (const other of new URL(request.url).searchParams.getAll("run")) query.append("run", other);
  let study: string;
  try {
    study = studyOfRun(services().store, id);
  } catch (error) {
    if (!isProblem(error)) throw error;
    return respond(() => {
      throw error;
    });
  }
  redirect(`/studies/${study}/trace?${query}`);
}
