import type { Metadata } from "next";
import { Link } from "@/ui/controls/link";
import { services } from "@/services/services";
import { isAsked, judgedOf, turnsIn, whatIfOf, type WhatIf } from "@/services/conclusions/judged";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Judged } from "@/core/judge/judged";
import { tellVerdicts } from "@/core/judge/tell";
import { TOLERANCE } from "@/core/study/study";
import { counted } from "@/core/units/counted";
import { formatPercent } from "@/core/units/number";
import { CourseLater } from "@/ui/frame/course-later";
import { EmptyPage } from "@/ui/frame/empty-page";
import { Trail } from "@/ui/frame/trail";
import { BySide } from "@/ui/judge/by-side";
import { ClaimDetail } from "@/ui/judge/claim-detail";
import { VerdictsOut } from "@/ui/judge/verdicts-out";
import { verdictRows, verdictSlide } from "@/ui/judge/verdicts-rows";
import { ClaimsTable } from "@/ui/judge/claims-table";
import { CopiesOfModels } from "@/ui/judge/copies-of-models";
import { QuestionVerdict } from "@/ui/judge/question-verdict";
import { asked, courseAtFirst, openKept, type Query } from "../study";

export const metadata: Metadata = { title: "Judge" };

/** What each claim of each part is worth, on which runs, and what would settle what is open. */
export default async function JudgePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Query;
}) {
  const { store } = services();
  const kept = openKept((await params).id);
  const { study, rigs, runs, leftOut } = kept;
  const { unit } = await asked(searchParams);
  const query = await searchParams;
  const wanted = whatIfOf(query, kept);
  const { judged, copies, ceilings, alongside } = judgedOf(store, kept, unit, wanted);
  const own = judgedOf(store, kept, unit).judged;
  const shown = judged.find(({ key }) => key === query.claim) ?? firstToShow(judged);
  const letter = (id: string) => {
    const index = rigs.findIndex((rig) => rig.id === id);
    return index < 0 ? "–" : letterOf(index);
  };
  const base = `/studies/${study.id}/judge`;
  return (
    <>
      <Trail title={study.title} simulated={study.simulated} studyId={study.id} />
      <CourseLater studyId={study.id} stages={courseAtFirst(kept)} current="Judge" />
      <h1 className="sr-only">Judge</h1>
      {!shown ? (
        <EmptyPage href="/shelf" action="Enter claims on the shelf">
          No part of this study has a claim, so there is nothing to judge. A claim is what the box
          or the data sheet of a part says.
        </EmptyPage>
      ) : (
        <>
          <p className="mt-3 font-serif text-[25px] leading-[1.28] text-pretty">
            {tellVerdicts(judged)}
          </p>
          {isAsked(wanted) && (
            <AskedSo
              wanted={wanted}
              rigs={rigs}
              before={own.find(({ key }) => key === shown.key)}
              shown={shown}
              href={`${base}?claim=${shown.key}`}
            />
          )}
          <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-6 xl:grid-cols-[minmax(0,1.45fr)_minmax(0,1fr)]">
            <div className="space-y-6">
              <div className="flex justify-end">
                <VerdictsOut
                  caption={{ title: `${study.title}: verdicts`, note: "" }}
                  rows={verdictRows(judged, unit)}
                  slide={verdictSlide(
                    judged,
                    unit,
                    `${study.title}; line: as claimed, ${unit}; tolerance ${formatPercent(study.tolerance)}.${study.simulated ? " Simulated." : ""} Made with Nerrit.`,
                  )}
                />
              </div>
              <ClaimsTable
                judged={judged}
                shownKey={shown.key}
                hrefOf={(key) => `${base}?${withClaim(query, key)}`}
                letterOf={letter}
                studyId={study.id}
                unit={unit}
              />
              <CopiesOfModels copies={copies} unit={unit} />
              <BySide
                alongside={alongside}
                ceilings={ceilings}
                studyId={study.id}
                letterOf={letter}
                unit={unit}
              />
            </div>
            <div className="space-y-5">
              <ClaimDetail
                judged={shown}
                turns={turnsIn(store, kept, unit, shown)}
                marks={marksOf(wanted, study.tolerance, leftOut.length)}
                studyId={study.id}
                simulated={study.simulated}
                unit={unit}
              />
              <QuestionVerdict
                studyId={study.id}
                tolerance={study.tolerance}
                asked={wanted}
                // A plan makes each repeat by itself: they are counted over all of them.
                runs={(shown.seen?.measurementIds ?? [])
                  .flatMap((id) => runs.get(id) ?? [])
                  .map((run, i) => ({ ...run, name: `${letter(shown.rig!.id)}, run ${i + 1}` }))}
                rigs={rigs
                  .filter(({ parts }) => parts.some(({ id }) => id === shown.part.id))
                  .map(({ id, name }) => ({ id, name: `${letter(id)} ${name}` }))}
              />
              <p className="text-[13px] text-secondary">
                A part falls short where runs have shown every other part of its rig to carry
                clearly more than the claim. It also does where all runs together give the part 95 %
                or more. What a part says of itself shows nothing.
              </p>
            </div>
          </div>
        </>
      )}
    </>
  );
}

/** What was asked otherwise than it is, and what that changes. */
function AskedSo({
  wanted,
  rigs,
  before,
  shown,
  href,
}: {
  wanted: WhatIf;
  rigs: readonly { id: string; name: string }[];
  before: Judged | undefined;
  shown: Judged;
  href: string;
}) {
  return (
    <p className="mt-1 border-l-[3px] border-dashed border-ink pl-3" role="status">
      <b className="font-semibold">What if: {whatIfWords(wanted, rigs)}.</b>{" "}
      {before &&
        `As it is, ${before.part.name}: ${verdictWords(before)}; asked so: ${verdictWords(shown)}.`}{" "}
      <Link className="underline" href={href}>
        Back to how it is
      </Link>
    </p>
  );
}

/** What is found short comes first, then what is open. */
function firstToShow(judged: readonly Judged[]): Judged | null {
  const order: Judged["kind"][] = [
    "Falls short",
    "Falls short in this combination",
    "Delivers in bursts only",
    "Can't tell yet",
  ];
  for (const kind of order) {
    const found = judged.find((one) => one.kind === kind && one.observed);
    if (found) return found;
  }
  return judged[0] ?? null;
}

const verdictWords = ({ kind, shortBy }: Judged) =>
  `${kind}${shortBy === null ? "" : ` by ${formatPercent(shortBy)}`}`;

function whatIfWords(
  { tolerance, without, on }: WhatIf,
  rigs: readonly { id: string; name: string }[],
): string {
  return [
    ...(tolerance === null ? [] : [`tolerance ${formatPercent(tolerance)}`]),
    ...(without.length === 0 ? [] : [`without ${counted(without.length, "run")}`]),
    ...(on === null ? [] : [`on ${rigs.find(({ id }) => id === on)?.name} alone`]),
  ].join(", ");
}

/** What about a verdict is not as usual. */
function marksOf({ tolerance, without }: WhatIf, own: number, leftOut: number): string[] {
  const share = tolerance ?? own;
  const usual = share === TOLERANCE ? "" : `, usually ${formatPercent(TOLERANCE)}`;
  return [
    `tolerance ${formatPercent(share)}${usual}`,
    ...(leftOut > 0 ? [`${counted(leftOut, "run")} of the study left out`] : []),
    ...(without.length > 0 ? [`asked without ${counted(without.length, "run")}`] : []),
  ];
}

/** The address of another claim, with the same questions. */
function withClaim(
  query: Readonly<Record<string, string | string[] | undefined>>,
  key: string,
): URLSearchParams {
  const next = new URLSearchParams();
  for (const [name, value] of Object.entries(query))
    for (const one of [value].flat())
      if (one !== undefined && name !== "on") next.append(name, one);
  next.set("claim", key);
  return next;
}
