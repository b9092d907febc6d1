import { isHostFull, loadWords, type WatchedHostLoad } from "@/core/watch/host-load";
import { formatPercent } from "@/core/units/number";

/** How busy the hosts are that are watched: whether a processor core of theirs has time left. */
export function HostLoads({ hosts }: { hosts: readonly WatchedHostLoad[] }) {
  if (hosts.length === 0) return null;
  return (
    <ul className="space-y-2">
      {hosts.map(({ host, load, trouble }) => (
        <li
          key={host}
          data-host-load={host}
          role="status"
          className={`border-l-[3px] px-3 py-2 ${isHostFull(load) || trouble ? "border-ink bg-bank font-medium" : "border-line bg-sheet"}`}
        >
          {trouble ? (
            <>
              {host} is out of touch. {trouble}
            </>
          ) : (
            <>
              <span className="font-semibold">{host}</span>
              {load.core && <span className="font-mono"> {formatPercent(load.core.now)} now</span>}:{" "}
              {loadWords(load) || "looking ..."}.
            </>
          )}
        </li>
      ))}
    </ul>
  );
}
