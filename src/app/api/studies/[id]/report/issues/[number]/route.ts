import { services } from "@/services/services";
import { studyFileName } from "@/services/file-names";
import { openIssue } from "@/services/reports/make-report";
import type { Params } from "../../../../../respond";
import { asFile, formOf } from "@/app/api/as-file";

/** An issue of a study's report, as it was kept. */
export async function GET(
  request: Request,
  { params }: Params<"id" | "number">,
): Promise<Response> {
  const { id, number } = await params;
  const form = formOf(request);
  const name = () => studyFileName(services().store, id, `report ${number}`);
  return asFile(form, name, async () => {
    const { page, archive } = openIssue(services().store, id, Number(number));
    return form === "zip" ? archive : page;
  });
}
