import { asFile } from "@/app/api/as-file";
import { bench } from "@/bench/bench";
import { printPart } from "@/bench/part-page";
import { RateUnit } from "@/core/units/rate";
import type { Params } from "../../../respond";

/** A part on paper: its card, or with columns all its rigs side by side. */
export async function GET(request: Request, { params }: Params<"id">): Promise<Response> {
  const { id } = await params;
  const query = new URL(request.url).searchParams;
  const columns = query.has("sheet") ? query.getAll("column") : null;
  const unit = RateUnit.catch("MB/s").parse(query.get("unit"));
  return asFile("html", `nerrit-part-${id.slice(0, 20)}`, () =>
    printPart(bench().store, id, columns, unit),
  );
}
