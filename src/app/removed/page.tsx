import type { Metadata } from "next";
import { services } from "@/services/services";
import { removedLately } from "@/services/removed/removed";
import { RemovedView } from "@/ui/removed/removed-view";

export const metadata: Metadata = { title: "Removed" };
export const dynamic = "force-dynamic";

/** Everything that was removed lately, and how to get it back. */
export default function RemovedPage() {
  return <RemovedView first={removedLately(services().store)} />;
}
