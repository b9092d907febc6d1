import { asFile } from "@/app/api/as-file";
import { partFileName } from "@/services/file-names";
import { services } from "@/services/services";
import { printPart } from "@/services/shelf/part-page";
import { RateUnit } from "@/core/units/rate";
import type { Params } from "../../../respond";

/** A part on paper: its card, or with columns all its rigs side by side. */
export async function GET(request: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  const query = new URL(request.url).searchParams;
  const columns = query.has("sheet") ? query.getAll("column") : null;
  const unit = RateUnit.catch("MB/s").parse(query.get("unit"));
  return asFile(
    "html",
    () => partFileName(services().store, id, columns ? "sheet" : "card"),
    () => printPart(services().store, id, columns, unit),
  );
}
