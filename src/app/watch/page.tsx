import { services } from "@/services/services";
import { studyTitles } from "@/services/studies/studies";
import { rigsToWatch } from "@/services/watching/rigs-to-watch";
import { interfaces } from "@/services/watching/watching";
import { USUAL_PER_SECOND } from "@/ui/watch/usual";
import { WatchView } from "@/ui/watch/watch-view";

export const metadata = { title: "Watch" };
export const dynamic = "force-dynamic";

/** Live counters of drives and interfaces while other programs use them. */
export default async function WatchPage({
  searchParams,
}: {
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}) {
  const { name, often, ...rest } = await searchParams;
  const names = (Array.isArray(name) ? name : [name]).filter((one): one is string => Boolean(one));
  const asked = Number(often);
  const perSecond = asked >= 1 && asked <= 10 ? Math.round(asked) : USUAL_PER_SECOND;
  const chosen = Object.fromEntries(
    Object.entries(rest).flatMap(([key, value]) =>
      key.startsWith("rig.") && typeof value === "string" ? [[key.slice(4), value]] : [],
    ),
  );
  return (
    <WatchView
      key={`${names.join()} ${perSecond}`}
      names={names}
      interfaces={await interfaces()}
      rigs={rigsToWatch(services().store)}
      studies={studyTitles(services().store)}
      chosen={chosen}
      perSecond={perSecond}
    />
  );
}
