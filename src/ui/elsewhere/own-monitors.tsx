import { MONITOR_COMMANDS } from "@/core/elsewhere/monitor-commands";
import { SYSTEM_NAMES, type System } from "@/core/elsewhere/machines";
import { Fold } from "../controls/fold";
import { Copyable } from "./copyable";

/** How to log, to time and to look with what a system brings, where no program may be run. */
export function OwnMonitors({ system }: { system: System }) {
  return (
    <Fold
      className="mt-3"
      summary={`Without the program: commands that ${SYSTEM_NAMES[system]} brings`}
    >
      <ul className="mt-1 space-y-2">
        {MONITOR_COMMANDS[system].map(({ does, command, note }) => (
          <li key={does}>
            {does}
            <Copyable text={command} />
            <span className="text-sm text-secondary">{note}</span>
          </li>
        ))}
      </ul>
    </Fold>
  );
}
