import { describe, expect, it } from "vitest";
import { COUNTED_BEGIN, countedIn, countedOnHost } from "./counted";

/** Documentation/admin-guide/iostats.rst: seventeen fields behind the name. */
const drive = (name: string, moved = 8) =>
  ` 8       0 ${name} ${moved} 0 ${moved} 1 ${moved} 0 ${moved} 0 0 1 1 0 0 0 0 0 0`;
/** proc(5): an interface, eight counters of what was received, eight of what was sent. */
const net = (name: string) => `  ${name}: 100 1 0 0 0 0 0 0 200 2 0 0 0 0 0 0`;

describe("what a host counts", () => {
  it("is its whole drives and its interfaces, whatever its login prints before", () => {
    const lines = [
      "Welcome. sdz is busy today",
      COUNTED_BEGIN,
      ...["sda", "sda1", "nvme0n1", "nvme0n1p2", "mmcblk0", "mmcblk0p1", "dm-0"].map((name) =>
        drive(name),
      ),
      drive("loop0", 0),
      drive("loop1"),
      drive("ram3", 0),
      "Inter-|   Receive                                                |  Transmit",
      " face |bytes    packets errs drop fifo frame compressed multicast|bytes",
      ...["lo", "eth0", "wlan0"].map(net),
    ];
    const counted = countedIn(lines.join("\n"));
    const names = (kind: string) => counted.flatMap((one) => (one.kind === kind ? one.name : []));
    expect(names("device")).toEqual(["sda", "nvme0n1", "mmcblk0", "dm-0", "loop1"]);
    expect(names("interface")).toEqual(["eth0", "wlan0"]);
  });

  it("leaves out what no shell is to be asked for", () => {
    const lines = [COUNTED_BEGIN, drive("sd$(id)"), net("a'b"), net("br-lan.1")];
    expect(countedIn(lines.join("\n"))).toEqual([{ name: "br-lan.1", kind: "interface" }]);
  });

  it("is named behind its host, and told apart from a path", () => {
    expect(countedOnHost("me@router:eth0")).toEqual({ host: "me@router", name: "eth0" });
    for (const text of ["eth0", "/dev/sdb", "lab2:/dev/sdb", ":eth0", "-o:eth0", "router:"])
      expect(countedOnHost(text)).toBeNull();
  });
});
