import type { Metadata } from "next";
import { services } from "@/services/services";
import { ArchiveView } from "@/ui/archive/archive-view";

export const metadata: Metadata = { title: "Archive" };
export const dynamic = "force-dynamic";

/** Questions over everything that was ever measured, and the archive that answers them. */
export default function ArchivePage() {
  return <ArchiveView first={services().archives.glance()} />;
}
