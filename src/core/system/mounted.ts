import type { Rig } from "../chain/rig";

/** Names of one file system that people and the kernel write differently. */
const ALIASES: Record<string, string> = {
  fuseblk: "ntfs",
  ntfs3: "ntfs",
  vfat: "fat32",
  hfsplus: "hfs+",
  nfs4: "nfs",
  smb3: "smb",
  cifs: "smb",
};
const plain = (name: string) =>
  ALIASES[name.toLowerCase()] ?? name.toLowerCase().replace(/[^a-z0-9+]/g, "");
const sameFileSystem = (declared: string, seen: string) => plain(declared) === plain(seen);

/** Mounts through which a file system on another machine is used: only the mount can be seen here. */
const NETWORK_MOUNTS =
  /^(nfs\d*|cifs|smb\d*|smbfs|9p|afs|ceph|glusterfs|lustre|davfs\d*|virtiofs|fuse\.(sshfs|glusterfs|rclone|davfs2?|s3fs|curlftpfs|smbnetfs))$/i;

/** Which of a rig's two words on its file system a mount is to be held against; null: neither. */
function seenAs(rig: Rig, type: string): "fileSystem" | "mountedAs" | null {
  // A program of the user's that mounts something behind a network box brings it over the network, too.
  const isRemote =
    NETWORK_MOUNTS.test(type) ||
    (/^fuse\./i.test(type) && rig.parts.some(({ kind }) => kind === "network-box"));
  if (!isRemote) return "fileSystem";
  return rig.mountedAs ? "mountedAs" : null;
}

/** What a rig declares of its file system, where a mount is something else; null where it is not, or nothing tells. */
export function mountDiffers(rig: Rig, type: string): string | null {
  const seen = seenAs(rig, type);
  if (!seen || !rig[seen] || sameFileSystem(rig[seen], type)) return null;
  return seen === "mountedAs" ? `mounted as ${rig.mountedAs}` : rig.fileSystem;
}

/** The file system, or of a network's share the mount, as the system has it. */
export function mountSeen(
  rig: Rig,
  type: string | undefined,
): Pick<Rig, "fileSystem" | "mountedAs"> {
  const { fileSystem, mountedAs } = rig;
  if (!type) return { fileSystem, mountedAs };
  return seenAs({ ...rig, mountedAs: type }, type) === "mountedAs"
    ? { fileSystem, mountedAs: type }
    : { fileSystem: type, mountedAs };
}
