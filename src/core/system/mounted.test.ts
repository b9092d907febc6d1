import { describe, expect, it } from "vitest";
import { fileSystemOf } from "../chain/rig";
import { cable, drive, part, port, rig } from "../testing/rigs";
import { mountDiffers, mountSeen } from "./mounted";

const local = (fileSystem = "", mountedAs = "") =>
  rig([port(), cable(), drive()], "local", { fileSystem, mountedAs });
const box = part("network-box", "nas", { up: ["ethernet-1g"], down: ["sata-6g"] });
const share = (fileSystem = "", mountedAs = "") =>
  rig([port(["ethernet-1g"]), box, drive()], "share", { fileSystem, mountedAs });

describe("the file system that a rig declares", () => {
  it("is held against the mount of a drive that hangs here", () => {
    expect(mountDiffers(local("exFAT"), "exfat")).toBeNull();
    expect(mountDiffers(local("exFAT"), "ext4")).toBe("exFAT");
    expect(mountDiffers(local(), "ext4")).toBeNull();
    expect(mountSeen(local("exFAT"), "ext4")).toEqual({ fileSystem: "ext4", mountedAs: "" });
  });

  it.each(["nfs4", "cifs", "smb3", "fuse.sshfs", "9p"])(
    "is at the far side of a share mounted as %s, which is declared by itself",
    (type) => {
      expect(mountDiffers(share("btrfs"), type)).toBeNull();
      expect(mountDiffers(share("btrfs", type), type)).toBeNull();
      expect(mountDiffers(share("btrfs", "afp"), type)).toBe("mounted as afp");
      expect(mountSeen(share("btrfs"), type)).toEqual({ fileSystem: "btrfs", mountedAs: type });
    },
  );

  it("is seen here where a network brings a bare device", () => {
    expect(mountDiffers(share("xfs"), "ext4")).toBe("xfs");
    expect(mountSeen(share(), "ext4")).toEqual({ fileSystem: "ext4", mountedAs: "" });
  });

  it("takes the names that people and kernels use for one and the same", () => {
    expect(mountDiffers(share("", "SMB"), "cifs")).toBeNull();
    expect(mountDiffers(share("", "nfs"), "nfs4")).toBeNull();
  });

  it("is said with the mount, and either makes a rig another set-up", () => {
    expect(fileSystemOf(share("btrfs", "nfs4"))).toBe("btrfs, mounted as nfs4");
    expect(fileSystemOf(share())).toBe("");
  });
});
