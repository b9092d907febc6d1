import { services } from "@/services/services";
import { exportShelf } from "@/services/shelf/shelf";

const TYPES = { json: "application/json", csv: "text/csv; charset=utf-8" } as const;

export function GET(request: Request): Response {
  const csv = new URL(request.url).searchParams.get("format") === "csv";
  const format = csv ? "csv" : "json";
  return new Response(exportShelf(services().store, format), {
    headers: {
      "Content-Type": TYPES[format],
      "Content-Disposition": `attachment; filename="nerrit-shelf.${format}"`,
    },
  });
}
