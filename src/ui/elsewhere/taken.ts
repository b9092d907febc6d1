import { counted } from "@/core/units/counted";
import { send } from "../controls/send";
import { sayRemoved } from "../controls/toast";

/** What was taken in at once, so that it can be undone at once. */
export interface Taken {
  measurementIds: string[];
  rigIds: string[];
  partIds: string[];
}

/** Says what was taken in, with a way back. */
export function sayTaken(studyId: string, taken: Taken, refresh: () => void): void {
  const { measurementIds, rigIds, partIds } = taken;
  const made = [
    ...(rigIds.length > 0 ? [counted(rigIds.length, "rig")] : []),
    ...(partIds.length > 0 ? [counted(partIds.length, "part")] : []),
  ];
  sayRemoved(
    `${counted(measurementIds.length, "result")} taken in${made.length > 0 ? `; ${made.join(" and ")} made` : ""}.`,
    async () => {
      const sent = await send("DELETE", `/api/studies/${studyId}/taken`, taken);
      refresh();
      return sent.ok ? null : sent.error.message;
    },
  );
}
