import { services } from "@/services/services";
import { issueReport } from "@/services/reports/make-report";
import { respond, type Params } from "../../../../respond";

/** Issues the report of a study as it stands. */
export const POST = (_: Request, { params }: Params<"id">) =>
  respond(async () => ({ number: await issueReport(services().store, (await params).id) }), 201);
