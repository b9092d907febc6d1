import { NextResponse, type NextRequest } from "next/server";

/** Names by which a browser on this machine reaches Nerrit. */
const LOOPBACK = new Set(["127.0.0.1", "localhost", "[::1]"]);

const hostname = (host: string) => host.replace(/:\d+$/, "").toLowerCase();

/**
 * Guards every request: only by a loopback name (a page elsewhere could rebind its own name to this
 * machine), and a change only from a page of Nerrit's own, so that no other page can start a test.
 */
export function proxy(request: NextRequest) {
  const host = request.headers.get("host") ?? "";
  if (!LOOPBACK.has(hostname(host))) return refuse("Nerrit answers on this machine only.");
  const changes = !["GET", "HEAD"].includes(request.method);
  const origin = request.headers.get("origin");
  if (changes && origin && !isOwn(origin, host)) {
    return refuse("This request came from another page.");
  }
  if (changes && !origin && request.headers.get("sec-fetch-site") === "cross-site") {
    return refuse("This request came from another page.");
  }
  return NextResponse.next();
}

function isOwn(origin: string, host: string): boolean {
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}

function refuse(message: string) {
  return NextResponse.json({ error: { message, fields: [], code: "forbidden" } }, { status: 403 });
}
