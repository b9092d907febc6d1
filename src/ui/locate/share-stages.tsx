import type { ShareStages } from "@/core/network/share-stages";
import { formatPercent, ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import { Link } from "../controls/link";

/** The stages of a share with a figure each: the slowest is where to look. */
export function ShareStagesTable({
  stages: { farHost, network, drive, share, core },
  letter,
  letterOf,
  unit,
}: {
  stages: ShareStages;
  /** Of the share's rig. */
  letter: string;
  letterOf: (rigId: string) => string | null;
  unit: RateUnit;
}) {
  const { said } = ratesIn(unit);
  const rows = [
    {
      what: `Network to ${farHost} alone`,
      figure: network === null ? null : said(network),
      missing: (
        <>
          not measured:{" "}
          <Link href="/hosts" className="underline">
            measure it on Hosts
          </Link>
        </>
      ),
    },
    {
      what: drive
        ? `Drive on ${farHost}, rig ${letterOf(drive.rig.id) ?? drive.rig.name}`
        : `Drive on ${farHost}`,
      figure: drive && said(drive.mbps),
      missing: "not measured there with the same drill",
    },
    { what: `Share, rig ${letter}`, figure: said(share), missing: null },
  ];
  return (
    <section className="border border-line bg-sheet px-4 py-3" data-share-stages>
      <h2 className="mb-1 font-semibold">The stages of this share</h2>
      <table>
        <tbody>
          {rows.map(({ what, figure, missing }) => (
            <tr key={what}>
              <th className="py-0.5 pr-6 text-left font-normal">{what}</th>
              <td className={figure ? "figure text-right font-semibold" : "text-secondary"}>
                {figure ?? missing}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {core && (
        <p className="mt-1 text-[13px] text-secondary">
          The busiest core of {farHost} was busy {formatPercent(core.mean)} of the run.
        </p>
      )}
    </section>
  );
}
