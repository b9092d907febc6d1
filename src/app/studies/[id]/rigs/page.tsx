import { usualDrill } from "@/core/drills/shape";
import { machineShown } from "@/core/machine/machine-stage";
import type { Rig } from "@/core/chain/rig";
import { remembered } from "@/services/conclusions/remembered";
import { services } from "@/services/services";
import { shelfFor } from "@/services/shelf/shelf";
import { swapsFor } from "@/core/locate/steps/swap";
import { usualTest } from "@/core/plan/usual-tests";
import { askedRig } from "@/core/study/asked-rig";
import { CourseLater } from "@/ui/frame/course-later";
import { Trail } from "@/ui/frame/trail";
import { RigsView } from "@/ui/rigs/rigs-view";
import { asked, courseAtFirst, openKept, type Query } from "../study";

export const metadata = { title: "Rigs" };

/** Changes of one part to name for each rig and direction: more would bury it. */
const MOST_SWAPS = 6;

export default async function RigsPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Query;
}) {
  const loaded = openKept((await params).id);
  const { study, rigs } = loaded;
  const { direction } = await asked(searchParams);
  const checks = services().checks.latest();
  const parts = shelfFor(services().store, study.id);
  const swaps = remembered(loaded, "swaps", () => {
    const swapsOf = (rig: Rig) => ({
      read: swapsFor(rig, parts, "read", MOST_SWAPS),
      write: swapsFor(rig, parts, "write", MOST_SWAPS),
    });
    return new Map(rigs.map((rig) => [rig.id, swapsOf(rig)] as const));
  });
  return (
    <>
      <Trail title={study.title} simulated={study.simulated} studyId={study.id} />
      <CourseLater studyId={study.id} stages={courseAtFirst(loaded)} current="Rigs" />
      <RigsView
        studyId={study.id}
        shown={rigs.map((rig) => ({
          rig,
          machine: machineShown(checks, rig, usualDrill("haul", direction), null),
          swaps: swaps.get(rig.id)!,
        }))}
        direction={direction}
        begun={askedRig(await searchParams, rigs, parts)}
        test={usualTest([(await searchParams).test].flat()[0])}
      />
    </>
  );
}
