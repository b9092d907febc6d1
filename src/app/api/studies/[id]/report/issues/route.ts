import { bench } from "@/bench/bench";
import { issueReport } from "@/bench/report";
import { respond, type Params } from "../../../../respond";

/** Issues the report of a study as it stands. */
export const POST = (_: Request, { params }: Params<"id">) =>
  respond(async () => ({ number: await issueReport(bench().store, (await params).id) }), 201);
