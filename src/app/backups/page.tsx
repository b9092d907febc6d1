import type { Metadata } from "next";
import { services } from "@/services/services";
import { BackupsView } from "@/ui/backups/backups-view";

export const metadata: Metadata = { title: "Backups" };
export const dynamic = "force-dynamic";

/** What keeps years of runs from being lost, and how to get them back. */
export default function BackupsPage() {
  return <BackupsView first={services().backups.view()} />;
}
