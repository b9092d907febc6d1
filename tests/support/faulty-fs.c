/*
 * A file system that passes a directory on and commits faults on purpose, for tests.
 *
 * Usage: faulty-fs BACKING MOUNT FAULTS
 *
 * FAULTS is a file, read at every request, one fault a line, offsets and lengths in bytes of any file:
 *   lose OFFSET LENGTH     what is written there never arrives
 *   stale OFFSET LENGTH    what is written there arrives once, and no second time
 *   swap OFFSET OFFSET     what is written to either 4 KiB page lands at the other
 *   flip OFFSET            one bit is read changed
 *   error OFFSET LENGTH    reading and writing there fails with EIO
 *   full                   writing fails with ENOSPC
 *   slow MICROSECONDS      every request takes so much longer
 *   hang                   requests wait for as long as this line stands there
 */
#define FUSE_USE_VERSION 31
#define _GNU_SOURCE
#include <dirent.h>
#include <errno.h>
#include <fcntl.h>
#include <fuse.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <sys/statvfs.h>
#include <unistd.h>

#define PAGE 4096
#define MOST 256

static char backing[4096], faults_file[4096];

typedef struct {
  char kind[16];
  long long a, b;
} Fault;

static int read_faults(Fault *faults) {
  FILE *file = fopen(faults_file, "r");
  int count = 0;
  char line[128];
  while (file && count < MOST && fgets(line, sizeof line, file)) {
    Fault *one = &faults[count];
    one->a = one->b = 0;
    if (sscanf(line, "%15s %lld %lld", one->kind, &one->a, &one->b) >= 1) count++;
  }
  if (file) fclose(file);
  return count;
}

/* Which pages were written before, of the largest file a test writes (4 GiB). */
static uint8_t written[1 << 20];

static int covers(const Fault *fault, off_t at) { return at >= fault->a && at < fault->a + fault->b; }

/* What stands in the way of a request, if anything. */
static int trouble(off_t at, size_t size, int writing) {
  Fault faults[MOST];
  for (;;) {
    int count = read_faults(faults), hang = 0;
    for (int i = 0; i < count; i++) {
      if (!strcmp(faults[i].kind, "hang")) hang = 1;
      if (!strcmp(faults[i].kind, "slow")) usleep((useconds_t)faults[i].a);
      if (!strcmp(faults[i].kind, "full") && writing) return -ENOSPC;
      if (!strcmp(faults[i].kind, "error") && faults[i].a < at + (off_t)size &&
          at < faults[i].a + faults[i].b)
        return -EIO;
    }
    if (!hang) return 0;
    usleep(20000);
  }
}

static void whole(char *out, const char *path) { snprintf(out, 8192, "%s%s", backing, path); }

static int f_getattr(const char *path, struct stat *st, struct fuse_file_info *fi) {
  char real[8192];
  whole(real, path);
  return (fi ? fstat((int)fi->fh, st) : lstat(real, st)) ? -errno : 0;
}
static int f_readdir(const char *path, void *buf, fuse_fill_dir_t fill, off_t off,
                     struct fuse_file_info *fi, enum fuse_readdir_flags flags) {
  (void)off, (void)fi, (void)flags;
  char real[8192];
  whole(real, path);
  DIR *dir = opendir(real);
  if (!dir) return -errno;
  for (struct dirent *e; (e = readdir(dir));) fill(buf, e->d_name, NULL, 0, 0);
  closedir(dir);
  return 0;
}
static int f_create(const char *path, mode_t mode, struct fuse_file_info *fi) {
  char real[8192];
  whole(real, path);
  int fd = open(real, (fi->flags & ~O_DIRECT) | O_CREAT, mode);
  if (fd < 0) return -errno;
  fi->fh = (uint64_t)fd;
  return 0;
}
static int f_open(const char *path, struct fuse_file_info *fi) {
  char real[8192];
  whole(real, path);
  int fd = open(real, fi->flags & ~O_DIRECT);
  if (fd < 0) return -errno;
  fi->fh = (uint64_t)fd;
  return 0;
}
static int f_read(const char *path, char *buf, size_t size, off_t at, struct fuse_file_info *fi) {
  (void)path;
  int wrong = trouble(at, size, 0);
  if (wrong) return wrong;
  ssize_t got = pread((int)fi->fh, buf, size, at);
  if (got < 0) return -errno;
  Fault faults[MOST];
  int count = read_faults(faults);
  for (int i = 0; i < count; i++) {
    if (strcmp(faults[i].kind, "flip") == 0 && faults[i].a >= at && faults[i].a < at + got)
      buf[faults[i].a - at] ^= 0x10;
  }
  return (int)got;
}
static int f_write(const char *path, const char *buf, size_t size, off_t at, struct fuse_file_info *fi) {
  (void)path;
  int wrong = trouble(at, size, 1);
  if (wrong) return wrong;
  Fault faults[MOST];
  int count = read_faults(faults);
  for (size_t done = 0; done < size;) {
    size_t part = PAGE - (size_t)((at + (off_t)done) % PAGE);
    if (part > size - done) part = size - done;
    off_t place = at + (off_t)done;
    size_t page = (size_t)(place / PAGE) % sizeof written;
    int skip = 0;
    for (int i = 0; i < count; i++) {
      const Fault *f = &faults[i];
      if (!strcmp(f->kind, "lose") && covers(f, place)) skip = 1;
      if (!strcmp(f->kind, "stale") && covers(f, place) && written[page]) skip = 1;
      if (!strcmp(f->kind, "swap") && place == f->a) place = f->b;
      else if (!strcmp(f->kind, "swap") && place == f->b) place = f->a;
    }
    written[page] = 1;
    if (!skip && pwrite((int)fi->fh, buf + done, part, place) != (ssize_t)part) return -errno;
    done += part;
  }
  return (int)size;
}
static int f_truncate(const char *path, off_t size, struct fuse_file_info *fi) {
  char real[8192];
  whole(real, path);
  return (fi ? ftruncate((int)fi->fh, size) : truncate(real, size)) ? -errno : 0;
}
static int f_unlink(const char *path) {
  char real[8192];
  whole(real, path);
  return unlink(real) ? -errno : 0;
}
static int f_rename(const char *from, const char *to, unsigned int flags) {
  (void)flags;
  char a[8192], b[8192];
  whole(a, from), whole(b, to);
  return rename(a, b) ? -errno : 0;
}
static int f_mkdir(const char *path, mode_t mode) {
  char real[8192];
  whole(real, path);
  return mkdir(real, mode) ? -errno : 0;
}
static int f_rmdir(const char *path) {
  char real[8192];
  whole(real, path);
  return rmdir(real) ? -errno : 0;
}
static int f_release(const char *path, struct fuse_file_info *fi) {
  (void)path;
  close((int)fi->fh);
  return 0;
}
static int f_fsync(const char *path, int data, struct fuse_file_info *fi) {
  (void)path, (void)data, (void)fi;
  return 0;
}
static int f_statfs(const char *path, struct statvfs *st) {
  (void)path;
  return statvfs(backing, st) ? -errno : 0;
}

static const struct fuse_operations operations = {
    .getattr = f_getattr, .readdir = f_readdir, .create = f_create,   .open = f_open,
    .read = f_read,       .write = f_write,     .truncate = f_truncate, .unlink = f_unlink,
    .rename = f_rename,   .mkdir = f_mkdir,     .rmdir = f_rmdir,     .release = f_release,
    .fsync = f_fsync,     .statfs = f_statfs,
};

int main(int argc, char **argv) {
  if (argc != 4 || !realpath(argv[1], backing)) return 1;
  snprintf(faults_file, sizeof faults_file, "%s", argv[3]);
  char *words[] = {argv[0], argv[2], "-f", "-o", "allow_other", NULL};
  return fuse_main(5, words, &operations, NULL);
}
