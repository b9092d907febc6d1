/*
 * macOS: what the measuring body asks of the system, by its own interfaces (fcntl(2), statfs(2),
 * sysctl(3)). No other library than the system's is needed.
 */
#include "posix.h"

#include <sys/mount.h>
#include <sys/param.h>
#include <sys/sysctl.h>
#include <sys/utsname.h>
#include "walk.h"

/* Blocks in one piece where that goes, else in several (fcntl(2), F_PREALLOCATE). */
int system_allocate(File file, uint64_t bytes) {
  fstore_t store = {F_ALLOCATECONTIG, F_PEOFPOSMODE, 0, (off_t)bytes, 0};
  if (fcntl((int)file, F_PREALLOCATE, &store) != 0) {
    store.fst_flags = F_ALLOCATEALL;
    if (fcntl((int)file, F_PREALLOCATE, &store) != 0) return errno;
  }
  return ftruncate((int)file, (off_t)bytes) == 0 ? 0 : errno;
}

/*
 * Nothing of a scratch file is in memory: it was opened with F_NOCACHE, and written through it. What memory
 * holds of a file that was there before cannot be dropped.
 */
int system_forget(File file) { return fcntl((int)file, F_NOCACHE, 1) == 0 ? 0 : errno; }
const int system_forgets = 0;

/* fsync(2) leaves what was written in the drive's cache here; F_FULLFSYNC has the drive write it. */
int system_flush(File file) {
  if (fcntl((int)file, F_FULLFSYNC) == 0) return 0;
  /* A network share knows no such request. */
  return fsync((int)file) == 0 ? 0 : errno;
}

/* Requests past the system's memory, and none made ahead of the program's. */
static int past_memory(File file) {
  return fcntl((int)file, F_NOCACHE, 1) == 0 && fcntl((int)file, F_RDAHEAD, 0) == 0;
}

int system_scratch(const char *folder, const char *name, int buffered, File *file, int *named) {
  int error = new_scratch(folder, name, 0, file, named);
  if (error || buffered) return error;
  if (!past_memory(*file)) {
    error = errno;
    system_close_scratch(*file, folder, name, *named);
  }
  return error;
}

int system_open_file(const char *folder, const char *name, int *direct, File *file) {
  int error = open_below(folder, name, O_RDONLY, file);
  if (!error && *direct) *direct = past_memory(*file);
  return error;
}
int system_make_file(const char *folder, const char *name, int *direct, File *file) {
  int error = open_below(folder, name, O_RDWR | O_CREAT | O_EXCL, file);
  if (!error && *direct) *direct = past_memory(*file);
  return error;
}

/* What went past memory is with the drive already; the drive is asked for it once, at the end. */
int system_finish_file(File file, int direct) {
  int error = !direct && fsync((int)file) != 0 ? errno : 0;
  return close((int)file) != 0 && !error ? errno : error;
}
int system_bring(const char *folder) {
  int fd = open(folder, O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (fd < 0) return errno;
  int error = system_flush(fd);
  close(fd);
  return error;
}

size_t system_lanes(size_t depth, size_t block, File file, void *(**lane)(void *)) {
  (void)block;
  (void)file;
  *lane = thread_lane;
  return depth;
}

int system_place(const char *folder, Place *place) {
  struct stat found;
  struct statfs mount;
  int fitness = look_at(folder, place, &found);
  if (fitness != FIT) return fitness;
  snprintf(place->lock, NAME_BYTES, "file-system-%llu", (unsigned long long)place->identity[0]);
  if (statfs(place->path, &mount) != 0) return FIT;
  place->free_bytes = (double)mount.f_bavail * (double)mount.f_bsize;
  place->total_bytes = (double)mount.f_blocks * (double)mount.f_bsize;
  snprintf(place->file_system, NAME_BYTES, "%s", mount.f_fstypename);
  if (mount.f_flags & MNT_RDONLY) return READ_ONLY;
  if (strncmp(mount.f_mntfromname, "/dev/", 5) == 0)
    snprintf(place->device, NAME_BYTES, "%.200s", mount.f_mntfromname + 5);
  if (strcmp(mount.f_fstypename, "msdos") == 0) place->file_bytes = 4032.0 * 1048576;
  place->is_memory = strcmp(mount.f_fstypename, "tmpfs") == 0;
  return FIT;
}

/* A lock of a file goes with the process that holds it (fcntl(2), F_SETLK). */
int system_lock(const Place *place) {
  char path[PATH_BYTES];
  snprintf(path, sizeof path, "/tmp/nerrit-%s.lock", place->lock);
  int fd = open(path, O_RDWR | O_CREAT | O_NOFOLLOW | O_CLOEXEC, 0666);
  if (fd < 0) return 0;
  struct flock whole = {.l_type = F_WRLCK, .l_whence = SEEK_SET};
  if (fcntl(fd, F_SETLK, &whole) == 0) return 0;
  int error = errno;
  close(fd);
  return error == EAGAIN || error == EACCES ? EBUSY : 0;
}

/* The system keeps such counts behind a framework; they are not asked for. */
int system_counted(const Place *place, double *read, double *written) {
  (void)place;
  (void)read;
  (void)written;
  return 0;
}

/* Temperatures are told to programs with rights of their own only. */
int system_celsius(const Place *place, double *celsius) {
  (void)place;
  (void)celsius;
  return 0;
}

static void told(const char *name, char *into) {
  size_t bytes = NAME_BYTES - 1;
  if (sysctlbyname(name, into, &bytes, NULL, 0) != 0) into[0] = 0;
}

void system_machine(Machine *machine) {
  char version[NAME_BYTES] = "";
  struct utsname name;
  uint64_t memory = 0;
  size_t bytes = sizeof memory;
  double load[1];
  uname(&name);
  snprintf(machine->host, NAME_BYTES, "%.200s", name.nodename);
  told("kern.osproductversion", version);
  snprintf(machine->system, NAME_BYTES, "macOS %.100s (%.100s)", version, name.release);
  told("machdep.cpu.brand_string", machine->processor);
  machine->cores = (int)sysconf(_SC_NPROCESSORS_ONLN);
  if (sysctlbyname("hw.memsize", &memory, &bytes, NULL, 0) == 0) machine->memory_bytes = (double)memory;
  machine->load = getloadavg(load, 1) == 1 ? load[0] : -1;
}
