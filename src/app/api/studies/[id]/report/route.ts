import { services } from "@/services/services";
import { studyFileName } from "@/services/file-names";
import { makeReport, setChoice } from "@/services/reports/make-report";
import { respond, readJson, type Params } from "../../../respond";
import { asFile, formOf } from "@/app/api/as-file";

/** The report of a study as it stands: a page, or everything of it by itself in an archive. */
export async function GET(request: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  const form = formOf(request);
  return asFile(
    form,
    () => studyFileName(services().store, id, "report"),
    async () => {
      const { bytes } = await makeReport(services().store, id, form);
      return bytes;
    },
  );
}

/** Keeps how a study is reported. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () =>
    setChoice(services().store, (await params).id, await readJson(request, LIMIT)),
  );

/** Eleven sections with 20 000 signs each, and room to spare. */
const LIMIT = 2 * 2 ** 20;
