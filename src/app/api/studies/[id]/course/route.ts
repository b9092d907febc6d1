import { services } from "@/services/services";
import { openCompared } from "@/services/conclusions/comparison";
import { courseOf, keptAnswers, keptJudged } from "@/app/studies/[id]/study";
import { respond, type Params } from "../../../respond";

/** How the stages of a study stand; with thousands of runs that takes longer than the page it stands on. */
export const GET = (_request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const compared = openCompared(services().store, (await params).id);
    return courseOf(compared, keptAnswers(compared), keptJudged(compared));
  });
