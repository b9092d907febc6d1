/* Answers in macOS's place, and writes each call down in the file that NERRIT_CALLS names. */
#include "declared.h"
#undef fcntl
#undef pread
#undef pwrite
#undef fsync
#include <errno.h>
#include <stdarg.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/statvfs.h>
#include "sys/mount.h"
#include "sys/sysctl.h"

static void record(const char *call, long long number) {
  FILE *calls = fopen(getenv("NERRIT_CALLS"), "a");
  fprintf(calls, "%s %lld\n", call, number);
  fclose(calls);
}

int recorded_fcntl(int fd, int command, ...) {
  va_list rest;
  va_start(rest, command);
  void *given = va_arg(rest, void *);
  va_end(rest);
  switch (command) {
    case F_NOCACHE: return record("F_NOCACHE", (long)given), 0;
    case F_RDAHEAD: return record("F_RDAHEAD", (long)given), 0;
    case F_FULLFSYNC: return record("F_FULLFSYNC", 0), 0;
    case F_PREALLOCATE: {
      fstore_t *store = given;
      record(store->fst_flags == F_ALLOCATECONTIG ? "F_PREALLOCATE in one" : "F_PREALLOCATE",
             store->fst_length);
      /* A drive that is in use has no such room in one piece. */
      errno = ENOSPC;
      return store->fst_flags == F_ALLOCATECONTIG ? -1 : 0;
    }
    default: return fcntl(fd, command, given);
  }
}

/* The first request only: there are thousands. */
ssize_t recorded_pread(int fd, void *to, size_t bytes, off_t at) {
  static int before;
  if (!__atomic_exchange_n(&before, 1, __ATOMIC_SEQ_CST)) record("pread", (long long)bytes);
  return pread(fd, to, bytes, at);
}
ssize_t recorded_pwrite(int fd, const void *from, size_t bytes, off_t at) {
  static int before;
  if (!__atomic_exchange_n(&before, 1, __ATOMIC_SEQ_CST)) record("pwrite", (long long)bytes);
  return pwrite(fd, from, bytes, at);
}
int recorded_fsync(int fd) { return fsync(fd); }

int statfs(const char *path, struct statfs *found) {
  struct statvfs space;
  if (statvfs(path, &space) != 0) return -1;
  memset(found, 0, sizeof *found);
  found->f_bsize = (uint32_t)space.f_frsize;
  found->f_blocks = space.f_blocks;
  found->f_bavail = space.f_bavail;
  strcpy(found->f_fstypename, "apfs");
  strcpy(found->f_mntfromname, "/dev/disk4s1");
  return 0;
}

int sysctlbyname(const char *name, void *old, size_t *old_bytes, void *new_value, size_t new_bytes) {
  (void)new_value;
  (void)new_bytes;
  if (strcmp(name, "hw.memsize") == 0) return *(uint64_t *)old = 17179869184u, 0;
  const char *words = strcmp(name, "kern.osproductversion") == 0 ? "15.6" : "Made-up processor";
  snprintf(old, *old_bytes, "%s", words);
  return 0;
}
