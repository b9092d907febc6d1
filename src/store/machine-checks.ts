import { desc } from "drizzle-orm";
import type { MachineCheck } from "@/core/machine/check";
import { machineChecks } from "./schema";
import type { Store } from "./store";

/** What machines were shown to move in their own memory: of each the latest check. */
export function listMachineChecks(store: Store): MachineCheck[] {
  const seen = new Set<string>();
  return store
    .select()
    .from(machineChecks)
    .orderBy(desc(machineChecks.at))
    .all()
    .flatMap(({ machine, check }) => {
      if (seen.has(machine)) return [];
      seen.add(machine);
      return [check];
    });
}

/** Keeps a check; one that is there already is not kept twice. */
export function putMachineCheck(store: Store, check: MachineCheck): void {
  const { machine, at } = check;
  store.insert(machineChecks).values({ machine, at, check }).onConflictDoNothing().run();
}
