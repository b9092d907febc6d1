import { isHostFull, loadNowWords, type WatchedHostLoad } from "@/core/run/host-load";

/** How busy the hosts are that are watched: whether a processor core of theirs has time left. */
export function HostLoads({ hosts }: { hosts: readonly WatchedHostLoad[] }) {
  return hosts.map(({ host, load, trouble }) => {
    const isGrave = trouble !== null || isHostFull(load);
    return (
      <p
        key={host}
        data-host-load={host}
        // Figures that change every second are not read aloud.
        role={isGrave ? "status" : undefined}
        className={`border-l-[3px] px-3 py-2 ${isGrave ? "border-ink bg-bank font-medium" : "border-line bg-sheet"}`}
      >
        {trouble ? (
          <>
            {host} is out of touch. {trouble}
          </>
        ) : (
          <>
            <span className="font-semibold">{host}:</span> {loadNowWords(load) || "looking ..."}
          </>
        )}
      </p>
    );
  });
}
