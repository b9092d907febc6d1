import { randomBytes } from "node:crypto";
import { NextResponse, type NextRequest } from "next/server";
import { NONCE } from "./app/nonce";
import { REFUSALS, REFUSED, type RefusedFor } from "./core/units/refused";

/** Names by which a browser on this machine reaches Nerrit. */
const LOOPBACK = new Set(["127.0.0.1", "localhost", "[::1]"]);

const hostname = (host: string) => host.replace(/:\d+$/, "").toLowerCase();

/**
 * Guards every request: only by a loopback name (a page elsewhere could rebind its own name to this
 * machine), and a change only from a page of Nerrit's own, so that no other page can start a test.
 */
export function proxy(request: NextRequest) {
  const refused = request.headers.get(REFUSED);
  if (refused) {
    const { message, status } = REFUSALS[refused as RefusedFor] ?? REFUSALS.address;
    return refuse(message, status);
  }
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
  // A page elsewhere may lead here, and make this server work for nothing else.
  const site = request.headers.get("sec-fetch-site");
  const isForeign = site === "cross-site" || site === "same-site";
  if (isForeign && request.nextUrl.pathname !== "/") {
    return refuse("This request came from another page.");
  }
  const nonce = randomBytes(16).toString("base64");
  const headers = new Headers(request.headers);
  // Next puts the nonce of this policy on the scripts it writes; the layout on its own.
  headers.set("Content-Security-Policy", policy(nonce));
  headers.set(NONCE, nonce);
  const response = NextResponse.next({ request: { headers } });
  return REPORT.test(request.nextUrl.pathname) ? asReport(response) : guarded(response, nonce);
}

/** A report is a file of its own: it carries its fonts and pictures, runs nothing, and is looked at in a frame. */
const REPORT = /^\/api\/(studies|parts)\/[^/]+\/report(\/|$)/;

function asReport<R extends Response>(response: R): R {
  guarded(response, "");
  const may = ["style-src 'unsafe-inline'", "font-src data:", "img-src data:"];
  const policy = ["default-src 'none'", ...may, "frame-ancestors 'self'", "sandbox"].join("; ");
  response.headers.set("Content-Security-Policy", policy);
  response.headers.set("X-Frame-Options", "SAMEORIGIN");
  return response;
}

/** What a page may load and who may show it: nothing from elsewhere, and nobody. */
function policy(nonce: string): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    // React and the charts set styles on elements.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
}

function guarded<R extends Response>(response: R, nonce: string): R {
  response.headers.set("Content-Security-Policy", policy(nonce));
  response.headers.set("X-Content-Type-Options", "nosniff");
  response.headers.set("X-Frame-Options", "DENY");
  response.headers.set("Referrer-Policy", "no-referrer");
  response.headers.set("Cross-Origin-Opener-Policy", "same-origin");
  response.headers.set("Cross-Origin-Resource-Policy", "same-origin");
  return response;
}

function isOwn(origin: string, host: string): boolean {
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}

function refuse(message: string, status = 403) {
  const error = { message, fields: [], code: "forbidden" };
  return guarded(NextResponse.json({ error }, { status }), "");
}
