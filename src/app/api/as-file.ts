import { isProblem } from "@/services/problem";
import type { ReportForm } from "@/services/reports/make-report";
import { attachment } from "./attachment";
import { respond } from "./respond";

/** Which form is asked for: the page unless the address says otherwise. */
export const formOf = (request: Request): ReportForm =>
  new URL(request.url).searchParams.get("form") === "zip" ? "zip" : "html";

/** Answers with a file; the page is shown, unless the address asks to keep it. */
export async function asFile(
  form: ReportForm,
  name: () => string,
  bytes: () => Promise<Uint8Array>,
): Promise<Response> {
  try {
    const type = form === "zip" ? "application/zip" : "text/html; charset=utf-8";
    const headers = new Headers({ "Content-Type": type, "Cache-Control": "no-store" });
    headers.set(
      "Content-Disposition",
      attachment(`${name()}.${form}`, form === "zip" ? "attachment" : "inline"),
    );
    return new Response(new Uint8Array(await bytes()), { headers });
  } catch (error) {
    if (!isProblem(error)) throw error;
    return respond(() => {
      throw error;
    });
  }
}
