import type { Metadata } from "next";
import { findMode } from "@/core/ledger/catalogue";
import { LedgerView } from "@/ui/ledger/ledger-view";

export const metadata: Metadata = { title: "Link ledger" };

export default async function LedgerPage({
  searchParams,
}: {
  searchParams: Promise<{ mode?: string | string[] }>;
}) {
  const { mode } = await searchParams;
  const known = [mode ?? []]
    .flat()
    .filter((id) => findMode(id))
    .slice(0, 4);
  return <LedgerView initial={known.length > 0 ? known : ["usb-10g", "sata-6g"]} />;
}
