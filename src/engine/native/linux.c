/* Linux: what the measuring body asks of the kernel, by its own interfaces (proc(5), sysfs(5)). */
#define _GNU_SOURCE
#include "posix.h"

#include <mntent.h>
#include <sys/socket.h>
#include <sys/statvfs.h>
#include <sys/sysinfo.h>
#include <sys/sysmacros.h>
#include <sys/un.h>
#include <sys/utsname.h>
#include "ring-lane.h"
#include "walk.h"

int system_allocate(File file, uint64_t bytes) {
  return fallocate((int)file, 0, 0, (off_t)bytes) == 0 ? 0 : errno;
}

int system_forget(File file) { return posix_fadvise((int)file, 0, 0, POSIX_FADV_DONTNEED); }
const int system_forgets = 1;

/* From how many requests on a ring carries them better than a thread for each (docs/measured.md). */
#define DEEP 32

size_t system_lanes(size_t depth, size_t block, File file, void *(**lane)(void *)) {
  *lane = thread_lane;
  if (depth <= DEEP || !takes_at_once((int)file, block) || ring_error() != 0) return depth;
  long cores = sysconf(_SC_NPROCESSORS_ONLN);
  size_t rings = (depth + DEEP - 1) / DEEP;
  *lane = ring_lane;
  return cores > 0 && (size_t)cores < rings ? (size_t)cores : rings;
}

int system_flush(File file) { return fsync((int)file) == 0 ? 0 : errno; }

/* A file that never had a name, where the file system knows such (open(2), O_TMPFILE). */
int system_scratch(const char *folder, const char *name, int buffered, File *file, int *named) {
  int fd = open(folder, O_TMPFILE | O_RDWR | O_CLOEXEC | (buffered ? 0 : O_DIRECT), 0600);
  if (fd >= 0) {
    *named = 0;
    *file = fd;
    return 0;
  }
  return new_scratch(folder, name, buffered ? 0 : O_DIRECT, file, named);
}

/* Some file systems have no requests past memory, and say so as a file is opened. */
static int open_direct(const char *folder, const char *name, int flags, int *direct, File *file) {
  int error = open_below(folder, name, flags | (*direct ? O_DIRECT : 0), file);
  if (error != EINVAL || !*direct) return error;
  *direct = 0;
  return open_below(folder, name, flags, file);
}
int system_open_file(const char *folder, const char *name, int *direct, File *file) {
  return open_direct(folder, name, O_RDONLY, direct, file);
}
int system_make_file(const char *folder, const char *name, int *direct, File *file) {
  return open_direct(folder, name, O_WRONLY | O_CREAT | O_EXCL, direct, file);
}
int system_finish_file(File file, int direct) {
  (void)direct;
  return close((int)file) == 0 ? 0 : errno;
}

/* All of its file system at once (syncfs(2)). */
int system_bring(const char *folder) {
  int fd = open(folder, O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (fd < 0) return errno;
  int error = syncfs(fd) == 0 ? 0 : errno;
  close(fd);
  return error;
}

/* Reads a small file of the kernel's, without the end of its line. 0 where there is none. */
static int told(char *text, size_t bytes, const char *path) {
  text[0] = 0;
  int fd = open(path, O_RDONLY | O_CLOEXEC);
  if (fd < 0) return 0;
  ssize_t there = read(fd, text, bytes - 1);
  close(fd);
  if (there <= 0) return 0;
  text[there] = 0;
  text[strcspn(text, "\n")] = 0;
  for (size_t end = strlen(text); end > 0 && text[end - 1] == ' '; end--) text[end - 1] = 0;
  return 1;
}

/* The same of an attribute of a block device, by its number. */
static int of_device(char *text, size_t bytes, const char *device, const char *attribute) {
  char path[PATH_BYTES];
  snprintf(path, sizeof path, "/sys/dev/block/%s/%s", device, attribute);
  return told(text, bytes, path);
}

/* mountinfo writes space, tab, newline and backslash as octal (proc(5)). */
static void unescape(char *text) {
  char *to = text;
  for (char *from = text; *from; to++) {
    if (from[0] == '\\' && from[1] && from[2] && from[3]) {
      *to = (char)((from[1] - '0') * 64 + (from[2] - '0') * 8 + (from[3] - '0'));
      from += 4;
    } else {
      *to = *from++;
    }
  }
  *to = 0;
}

/* Of all mounts above a path the deepest, of those the latest: its file system, options and source. */
static void find_mount(Place *place, char *source) {
  FILE *table = fopen("/proc/self/mountinfo", "r");
  char *line = NULL;
  size_t room = 0, deepest = 0;
  source[0] = 0;
  while (table && getline(&line, &room, table) > 0) {
    char *rest = strstr(line, " - "), *end = line, *fields[6];
    if (!rest) continue;
    *rest = 0;
    rest += 3;
    int count = 0;
    for (char *word; count < 6 && (word = strsep(&end, " "));) fields[count++] = word;
    if (count < 6) continue;
    char *point = fields[4];
    unescape(point);
    size_t length = strcmp(point, "/") == 0 ? 0 : strlen(point);
    if (strncmp(place->path, point, length) != 0 ||
        (place->path[length] != '/' && place->path[length] != 0) || length < deepest)
      continue;
    deepest = length;
    char *type = strsep(&rest, " "), *from = strsep(&rest, " \n");
    snprintf(place->file_system, NAME_BYTES, "%s", type ? type : "");
    snprintf(place->mount_options, NAME_BYTES, "%s", fields[5]);
    snprintf(source, NAME_BYTES, "%s", from ? from : "");
    unescape(source);
  }
  free(line);
  if (table) fclose(table);
}

/* The number of the block device of a file system; some give files a number that no device has. */
static int device_below(char *device, const struct stat *found, const char *source) {
  char text[NAME_BYTES];
  struct stat of_source;
  snprintf(device, NAME_BYTES, "%u:%u", major(found->st_dev), minor(found->st_dev));
  if (of_device(text, sizeof text, device, "size")) return 1;
  if (strncmp(source, "/dev/", 5) != 0 || stat(source, &of_source) != 0) return 0;
  if (!S_ISBLK(of_source.st_mode)) return 0;
  snprintf(device, NAME_BYTES, "%u:%u", major(of_source.st_rdev), minor(of_source.st_rdev));
  return of_device(text, sizeof text, device, "size");
}

/* How a drive is attached: the nearest USB device or PCI function above it that tells its speed. */
static void find_link(Place *place, const char *device) {
  char path[PATH_BYTES], speed[64], width[64], up[PATH_BYTES];
  snprintf(path, sizeof path, "/sys/dev/block/%s", device);
  char *real = realpath(path, NULL);
  while (real && strlen(real) > strlen("/sys/devices")) {
    snprintf(up, sizeof up, "%s/speed", real);
    if (told(speed, sizeof speed, up)) {
      snprintf(place->link, NAME_BYTES, "USB, %s Mb/s", speed);
      break;
    }
    snprintf(up, sizeof up, "%s/current_link_speed", real);
    if (told(speed, sizeof speed, up)) {
      snprintf(up, sizeof up, "%s/current_link_width", real);
      snprintf(place->link, NAME_BYTES, "PCIe, %s, %s lanes", speed,
               told(width, sizeof width, up) ? width : "?");
      break;
    }
    *strrchr(real, '/') = 0;
  }
  free(real);
}

static void find_drive(Place *place, const char *device) {
  char text[NAME_BYTES], whole[NAME_BYTES], path[PATH_BYTES], maker[64] = "", model[128] = "";
  snprintf(whole, sizeof whole, "%s", device);
  if (of_device(text, sizeof text, device, "partition"))
    of_device(whole, sizeof whole, device, "../dev");
  snprintf(place->lock, NAME_BYTES, "%s", whole);
  snprintf(path, sizeof path, "/sys/dev/block/%s", device);
  ssize_t length = readlink(path, text, sizeof text - 1);
  text[length > 0 ? length : 0] = 0;
  snprintf(place->device, NAME_BYTES, "%s", strrchr(text, '/') ? strrchr(text, '/') + 1 : text);
  if (of_device(text, sizeof text, device, "size")) place->device_bytes = atof(text) * SECTOR;
  if (of_device(text, sizeof text, whole, "queue/logical_block_size"))
    place->smallest_block = atoi(text);
  if (of_device(text, sizeof text, whole, "queue/rotational")) place->rotational = text[0] == '1';
  if (of_device(text, sizeof text, whole, "queue/max_sectors_kb"))
    place->request_limit_bytes = atof(text) * 1024;
  of_device(place->write_cache, NAME_BYTES, whole, "queue/write_cache");
  if (of_device(text, sizeof text, whole, "queue/scheduler")) {
    char *from = strchr(text, '['), *to = strchr(text, ']');
    if (from && to) *to = 0;
    snprintf(place->scheduler, NAME_BYTES, "%s", from && to ? from + 1 : text);
  }
  of_device(maker, sizeof maker, whole, "device/vendor");
  of_device(model, sizeof model, whole, "device/model");
  /* The number of a maker says nothing without a model. */
  if (model[0]) snprintf(place->drive, NAME_BYTES, "%s%s%s", maker, maker[0] ? " " : "",
                         model);
  find_link(place, whole);
}

int system_place(const char *folder, Place *place) {
  struct stat found;
  char source[NAME_BYTES], device[NAME_BYTES];
  int fitness = look_at(folder, place, &found);
  if (fitness != FIT) return fitness;
  find_mount(place, source);
  struct statvfs space;
  if (statvfs(place->path, &space) == 0) {
    place->free_bytes = (double)space.f_bavail * (double)space.f_frsize;
    place->total_bytes = (double)space.f_blocks * (double)space.f_frsize;
    if (space.f_flag & ST_RDONLY) return READ_ONLY;
  }
  const char *type = place->file_system;
  place->is_memory = strcmp(type, "tmpfs") == 0 || strcmp(type, "ramfs") == 0 ||
                     strcmp(type, "devtmpfs") == 0;
  if (strcmp(type, "vfat") == 0 || strcmp(type, "msdos") == 0) place->file_bytes = 4032.0 * 1048576;
  snprintf(place->lock, NAME_BYTES, "file-system-%llu", (unsigned long long)found.st_dev);
  if (device_below(device, &found, source)) find_drive(place, device);
  return FIT;
}

/* Takes a name in the kernel's abstract space, which goes with the process (unix(7)). 0, or EBUSY. */
static int take_name(const struct sockaddr_un *name, size_t bytes) {
  int held = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
  if (held < 0) return 0;
  if (bind(held, (const struct sockaddr *)name, (socklen_t)bytes) == 0 && listen(held, 1) == 0) return 0;
  int error = errno;
  close(held);
  return error == EADDRINUSE ? EBUSY : 0;
}

/*
 * The name that the engine takes, too (src/engine/target/lock.ts). Some versions of its runtime take it
 * with the zero bytes behind it, which makes it another name, so both are taken.
 */
int system_lock(const Place *place) {
  struct sockaddr_un name;
  memset(&name, 0, sizeof name);
  name.sun_family = AF_UNIX;
  int length = snprintf(name.sun_path + 1, sizeof name.sun_path - 1, "nerrit/device/%s", place->lock);
  size_t exact = offsetof(struct sockaddr_un, sun_path) + 1 + (size_t)length;
  return take_name(&name, sizeof name) || take_name(&name, exact) ? EBUSY : 0;
}

int system_counted(const Place *place, double *read, double *written) {
  char path[PATH_BYTES], text[512];
  double fields[7];
  if (!place->device[0]) return 0;
  snprintf(path, sizeof path, "/sys/class/block/%s/stat", place->device);
  if (!told(text, sizeof text, path)) return 0;
  if (sscanf(text, "%lf %lf %lf %lf %lf %lf %lf", fields, fields + 1, fields + 2, fields + 3,
             fields + 4, fields + 5, fields + 6) != 7)
    return 0;
  *read = fields[2] * SECTOR;
  *written = fields[6] * SECTOR;
  return 1;
}

int system_celsius(const Place *place, double *celsius) {
  char folder[PATH_BYTES], path[PATH_BYTES + 64], text[64];
  if (!place->device[0]) return 0;
  static const char *const under[] = {"device/hwmon", "device"};
  for (int i = 0; i < 2; i++) {
    snprintf(folder, sizeof folder, "/sys/dev/block/%s/%s", place->lock, under[i]);
    DIR *open = opendir(folder);
    for (struct dirent *entry; open && (entry = readdir(open));) {
      if (strncmp(entry->d_name, "hwmon", 5) != 0 || !entry->d_name[5]) continue;
      snprintf(path, sizeof path, "%s/%.40s/temp1_input", folder, entry->d_name);
      if (!told(text, sizeof text, path)) continue;
      closedir(open);
      *celsius = atof(text) / 1000;
      return 1;
    }
    if (open) closedir(open);
  }
  return 0;
}

void system_machine(Machine *machine) {
  struct utsname name;
  char line[512];
  uname(&name);
  snprintf(machine->host, NAME_BYTES, "%s", name.nodename);
  snprintf(machine->system, NAME_BYTES, "%s %s", name.sysname, name.release);
  machine->cores = (int)sysconf(_SC_NPROCESSORS_ONLN);
  machine->memory_bytes = (double)sysconf(_SC_PHYS_PAGES) * (double)sysconf(_SC_PAGESIZE);
  double load[1];
  machine->load = getloadavg(load, 1) == 1 ? load[0] : -1;
  FILE *info = fopen("/proc/cpuinfo", "r");
  while (info && fgets(line, sizeof line, info)) {
    char *colon = strchr(line, ':');
    if (strncmp(line, "model name", 10) != 0 || !colon) continue;
    line[strcspn(line, "\n")] = 0;
    snprintf(machine->processor, NAME_BYTES, "%.200s", colon + 2);
    break;
  }
  if (info) fclose(info);
}
