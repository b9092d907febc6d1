/* statfs(2) as the manual of macOS has it, as far as it is used. */
#ifndef STAND_IN_MOUNT_H
#define STAND_IN_MOUNT_H

#include <stdint.h>

#define MNT_RDONLY 0x00000001

struct statfs {
  uint32_t f_bsize;
  uint64_t f_blocks, f_bfree, f_bavail;
  uint32_t f_flags;
  char f_fstypename[16];
  char f_mntonname[1024];
  char f_mntfromname[1024];
};

int statfs(const char *path, struct statfs *found);

#endif
