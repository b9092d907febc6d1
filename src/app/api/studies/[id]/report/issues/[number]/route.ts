import { services } from "@/services/services";
import { openIssue } from "@/services/reports/report";
import type { Params } from "../../../../../respond";
import { asFile, formOf } from "@/app/api/as-file";

/** An issue of a study's report, as it was kept. */
export async function GET(
  request: Request,
  { params }: Params<"id" | "number">,
): Promise<Response> {
  const { id, number } = await params;
  const form = formOf(request);
  return asFile(form, `nerrit-report-${id.slice(0, 20)}-${number}`, async () => {
    const { page, archive } = openIssue(services().store, id, Number(number));
    return form === "zip" ? archive : page;
  });
}
