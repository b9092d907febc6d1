import { dayOfFile, fileName } from "@/core/units/file-name";
import { services } from "@/services/services";
import { exportShelf } from "@/services/shelf/shelf";
import { attachment } from "../../attachment";

const TYPES = { json: "application/json", csv: "text/csv; charset=utf-8" } as const;

export function GET(request: Request): Response {
  const csv = new URL(request.url).searchParams.get("format") === "csv";
  const format = csv ? "csv" : "json";
  return new Response(exportShelf(services().store, format), {
    headers: {
      "Content-Type": TYPES[format],
      "Content-Disposition": attachment(
        `${fileName("shelf", dayOfFile(new Date().toISOString()))}.${format}`,
      ),
    },
  });
}
