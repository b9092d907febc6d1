import { setImmediate } from "node:timers/promises";
import { unzipSync } from "fflate";
import { partsOfRigs } from "@/core/judge/judged";
import { tracedIn } from "@/core/report/traced";
import { ReportChoice, USUAL_CHOICE } from "@/core/study/report-choice";
import { Earlier } from "@/core/report/earlier";
import { hostNames } from "@/store/hosts";
import { listMachineChecks } from "@/store/machine-checks";
import { listNetworks } from "@/store/networks";
import type { Store } from "@/store/database";
import * as rows from "@/store/reports";
import { versionOf } from "@/store/version";
import { openCompared } from "../conclusions/comparison";
import { dropsAsked } from "../conclusions/conclusions";
import { BUNDLED, inThread } from "./report-thread";
import { opinionOf } from "../conclusions/opinion";
import { checked, Problem } from "../problem";
import { writingOf } from "../writing";
import { shelfFor } from "../shelf/shelf";
import { measurement, openStudy } from "../studies/studies";
import { studyDocument } from "../studies/save-study";

const GONE = "There is no such study.";

/** How a study is reported, written as everything else is; as usual where nothing was chosen, or where that is not understood any more. */
export const choiceOf = (store: Store, studyId: string): ReportChoice => ({
  ...(ReportChoice.safeParse(rows.getReportChoice(store, studyId) ?? {}).data ?? USUAL_CHOICE),
  ...writingOf(store),
});

/** Keeps how a study is reported. @throws Problem 404, 422 that names what makes no sense */
export function setChoice(store: Store, studyId: string, input: unknown): void {
  if (!rows.putReportChoice(store, studyId, checked(ReportChoice, input)))
    throw new Problem(404, GONE);
}

/** The page within an archive: what is issued is one and the same. */
const PAGE = "report.html";

export type ReportForm = "html" | "zip";

interface Made {
  bytes: Uint8Array;
  stand: unknown;
}

/** Reports made of late: what is looked at is often kept next. */
const shared = globalThis as { nerritReports?: Map<string, Promise<Made>> };
const MOST_KEPT = 4;

/**
 * Makes the report of a study as it stands, in a thread of its own.
 *
 * @param file the bundle that makes it
 * @throws Problem 404
 */
export function makeReport(
  store: Store,
  studyId: string,
  form: ReportForm,
  at = new Date(),
  file = BUNDLED,
): Promise<Made> {
  openStudy(store, studyId);
  const kept = (shared.nerritReports ??= new Map<string, Promise<Made>>());
  const key = [studyId, form, versionOf(store), at.toISOString().slice(0, 10)].join(" ");
  const known = kept.get(key);
  if (known) return known;
  const choice = choiceOf(store, studyId);
  const beside = {
    choice,
    at: at.toISOString(),
    earlier: lastIssue(store, studyId),
    shelf: shelfFor(store, studyId),
    opinion: opinionOf(store),
    hosts: hostNames(store),
  };
  const made = ordered(store, studyId, choice, form).then((order) =>
    inThread<Made>(
      file,
      order.page
        ? { make: "page", page: { ...beside, ...order.page } }
        : { make: "report", report: { ...beside, form, file: order.file } },
    ),
  );
  kept.set(key, made);
  // What failed is not kept.
  made.catch(() => kept.delete(key));
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return made;
}

/** What the thread works on; other requests are answered between one piece of it and the next. */
async function ordered(store: Store, studyId: string, choice: ReportChoice, form: ReportForm) {
  if (form === "zip") return { file: studyDocument(store, studyId).document };
  const kept = openCompared(store, studyId);
  await setImmediate();
  const drops = dropsAsked(store, kept);
  await setImmediate();
  return { page: { drops, ...pageMatter(store, studyId, choice) } };
}

/** What the page alone is made of: every run by its headline, and the traces that it shows. */
function pageMatter(store: Store, studyId: string, choice: ReportChoice) {
  const { study, rigs, measurements } = openCompared(store, studyId);
  const traced = new Set(tracedIn(measurements).map(({ id }) => id));
  const photos = rows.getPhotos(
    store,
    choice.photos.map(({ id }) => id),
  );
  return {
    filed: {
      study,
      rigs,
      parts: partsOfRigs(rigs),
      measurements: measurements.map((one) =>
        traced.has(one.id) ? measurement(store, one.id) : one,
      ),
      networks: listNetworks(store),
      checks: listMachineChecks(store),
    },
    photos: Object.fromEntries(
      photos.map(({ id, bytes, ...photo }) => [id, { ...photo, data: bytes.toString("base64") }]),
    ),
  };
}

function lastIssue(store: Store, studyId: string): Earlier | null {
  const [last] = rows.issuesOf(store, studyId);
  if (!last) return null;
  const { number, issuedAt, stand } = rows.getIssue(store, studyId, last.number)!;
  return Earlier.safeParse({ ...(stand as object), number, issuedAt }).data ?? null;
}

/**
 * Issues the report of a study: it is kept as it is now, with the study's file, under the next number.
 *
 * @returns the number
 * @throws Problem 404
 */
export async function issueReport(store: Store, studyId: string, file = BUNDLED): Promise<number> {
  const at = new Date();
  const { study } = openStudy(store, studyId);
  const { bytes, stand } = await makeReport(store, studyId, "zip", at, file);
  return rows.insertIssue(store, {
    studyId,
    issuedAt: at.toISOString(),
    title: choiceOf(store, studyId).title || study.title,
    page: Buffer.from(unzipSync(bytes, { filter: ({ name }) => name === PAGE })[PAGE]!),
    archive: Buffer.from(bytes),
    stand,
  });
}

/** An issue as it was kept. @throws Problem 404 */
export function openIssue(store: Store, studyId: string, number: number) {
  const issue = Number.isSafeInteger(number) ? rows.getIssue(store, studyId, number) : null;
  if (!issue) throw new Problem(404, "There is no such issue.");
  return issue;
}

export { allIssues, issuesOf } from "@/store/reports";
