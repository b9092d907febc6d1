import os from "node:os";
import type { Metadata } from "next";
import { services } from "@/services/services";
import { HostsView } from "@/ui/hosts/hosts-view";

export const metadata: Metadata = { title: "Hosts" };
export const dynamic = "force-dynamic";

/** The machines that drives can be measured on. */
export default function HostsPage() {
  const { hosts } = services();
  const first = { hosts: hosts.list(), offered: hosts.offered() };
  return <HostsView first={first} ownName={os.hostname()} />;
}
