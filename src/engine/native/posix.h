/* What linux.c and macos.c have in common: the calls that POSIX defines. */
#ifndef NERRIT_POSIX_H
#define NERRIT_POSIX_H

#include <errno.h>
#include <fcntl.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <dirent.h>
#include <time.h>
#include <unistd.h>
#include "stamp.h"
#include "system.h"

long long system_read(File file, void *to, size_t bytes, uint64_t at) {
  ssize_t moved = pread((int)file, to, bytes, (off_t)at);
  return moved < 0 ? -errno : moved;
}

long long system_write(File file, const void *from, size_t bytes, uint64_t at) {
  ssize_t moved = pwrite((int)file, from, bytes, (off_t)at);
  return moved < 0 ? -errno : moved;
}

uint64_t system_now(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return (uint64_t)t.tv_sec * 1000000000u + (uint64_t)t.tv_nsec;
}

void system_sleep(unsigned microseconds) { usleep(microseconds); }

void *system_pages(size_t bytes) {
  void *pages = NULL;
  return posix_memalign(&pages, PAGE, bytes) == 0 ? pages : NULL;
}
void system_free_pages(void *pages) { free(pages); }

void system_begin(int *argc, char ***argv) {
  (void)argc;
  (void)argv;
}

/* Joins a folder and a name. 0 where that is too long. */
static int joined(char *path, const char *folder, const char *name) {
  return snprintf(path, PATH_BYTES, "%s/%s", folder, name) < PATH_BYTES;
}

/* What kind of folder a path leads to, and where it really lies. */
static int look_at(const char *folder, Place *place, struct stat *found) {
  struct stat followed;
  if (lstat(folder, found) != 0) return errno == EACCES ? NO_PERMISSION : NO_SUCH;
  if (stat(folder, &followed) != 0) return NO_SUCH;
  char *real = realpath(folder, NULL);
  if (!real || strlen(real) >= PATH_BYTES) {
    free(real);
    return NO_SUCH;
  }
  strcpy(place->path, real);
  free(real);
  place->identity[0] = (uint64_t)followed.st_dev;
  place->identity[1] = (uint64_t)followed.st_ino;
  if (!S_ISDIR(followed.st_mode)) return NO_FOLDER;
  if (S_ISLNK(found->st_mode)) return A_LINK;
  if (access(place->path, W_OK | X_OK) != 0) return errno == EROFS ? READ_ONLY : NO_PERMISSION;
  return FIT;
}

/* A new file that nobody else can have put there; its name is taken away at once. */
static int new_scratch(const char *folder, const char *name, int flags, File *file, int *named) {
  char path[PATH_BYTES];
  if (!joined(path, folder, name)) return ENAMETOOLONG;
  int fd = open(path, O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC | flags, 0600);
  if (fd < 0) {
    int error = errno;
    if (error == EINVAL) unlink(path); /* made, and then refused for its flags */
    return error;
  }
  *named = unlink(path) != 0;
  *file = fd;
  return 0;
}

void system_close_scratch(File file, const char *folder, const char *name, int named) {
  close((int)file);
  if (named) system_remove(folder, name);
}

int system_list(const char *folder, void (*visit)(const Entry *, void *), void *with) {
  DIR *open = opendir(folder);
  if (!open) return errno;
  for (struct dirent *entry; (entry = readdir(open));) {
    struct stat found;
    if (strcmp(entry->d_name, ".") == 0 || strcmp(entry->d_name, "..") == 0) continue;
    if (fstatat(dirfd(open), entry->d_name, &found, AT_SYMLINK_NOFOLLOW) != 0) continue;
    int kind = S_ISREG(found.st_mode)   ? A_FILE
               : S_ISDIR(found.st_mode) ? A_FOLDER
                                        : SOMETHING_ELSE;
    Entry one = {entry->d_name, kind, (double)found.st_size};
    visit(&one, with);
  }
  closedir(open);
  return 0;
}

long system_peek(const char *folder, const char *name, void *to, size_t bytes) {
  char path[PATH_BYTES];
  if (!joined(path, folder, name)) return -1;
  int fd = open(path, O_RDONLY | O_NOFOLLOW | O_CLOEXEC);
  if (fd < 0) return -1;
  ssize_t there = pread(fd, to, bytes, 0);
  close(fd);
  return (long)there;
}

void system_remove(const char *folder, const char *name) {
  char path[PATH_BYTES];
  if (joined(path, folder, name)) unlink(path);
}

int system_remove_folder(const char *folder, const char *name) {
  char path[PATH_BYTES];
  if (!joined(path, folder, name)) return ENAMETOOLONG;
  return rmdir(path) == 0 ? 0 : errno;
}

int system_is_there(const Place *place) {
  struct stat now;
  return lstat(place->path, &now) == 0 && (uint64_t)now.st_dev == place->identity[0] &&
         (uint64_t)now.st_ino == place->identity[1];
}

void system_chance(void *to, size_t bytes) {
  int fd = open("/dev/urandom", O_RDONLY | O_CLOEXEC);
  if (fd < 0 || read(fd, to, bytes) != (ssize_t)bytes) {
    fputs("There is no /dev/urandom to draw a number from.\n", stderr);
    exit(1);
  }
  close(fd);
}

double system_processor_us(void) {
  struct rusage used;
  getrusage(RUSAGE_SELF, &used);
  return (double)(used.ru_utime.tv_sec + used.ru_stime.tv_sec) * 1e6 +
         (double)(used.ru_utime.tv_usec + used.ru_stime.tv_usec);
}

FILE *system_create(const char *path) {
  int fd = open(path, O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0644);
  return fd < 0 ? NULL : fdopen(fd, "w");
}
FILE *system_open(const char *path) { return fopen(path, "r"); }
int system_flush_file(FILE *file) { return fflush(file) != 0 || fsync(fileno(file)) != 0 ? errno : 0; }

static void (*on_stop)(void);
static void stopped(int number) {
  (void)number;
  on_stop();
}
void system_on_stop(void (*stop)(void)) {
  on_stop = stop;
  struct sigaction action;
  memset(&action, 0, sizeof action);
  action.sa_handler = stopped;
  sigaction(SIGINT, &action, NULL);
  sigaction(SIGTERM, &action, NULL);
  /* Whoever has the hang-up ignored wants the run to go on without the terminal (nohup(1)). */
  struct sigaction before;
  if (sigaction(SIGHUP, NULL, &before) == 0 && before.sa_handler != SIG_IGN)
    sigaction(SIGHUP, &action, NULL);
  signal(SIGPIPE, SIG_IGN);
}

int system_is_terminal(FILE *file) { return isatty(fileno(file)); }

/* ---- what a copy needs ---- */

/* Opens a file step by step, so that who exchanges a folder on the way for a link leads nowhere. */
static int open_below(const char *folder, const char *name, int flags, File *file) {
  char way[PATH_BYTES];
  if (strlen(name) >= sizeof way) return ENAMETOOLONG;
  strcpy(way, name);
  int at = open(folder, O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC);
  char *step = way;
  for (char *end; at >= 0 && (end = strchr(step, '/')); step = end + 1) {
    *end = 0;
    int next = openat(at, step, O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC), error = errno;
    close(at);
    at = next;
    errno = error;
  }
  if (at < 0) return errno;
  int fd = openat(at, step, flags | O_NOFOLLOW | O_CLOEXEC, 0600), error = errno;
  if (fd < 0 && error == EINVAL && (flags & O_CREAT)) unlinkat(at, step, 0);
  close(at);
  if (fd < 0) return error;
  *file = fd;
  return 0;
}

int system_cut(File file, uint64_t bytes) {
  return ftruncate((int)file, (off_t)bytes) == 0 ? 0 : errno;
}

void system_close_file(File file) { close((int)file); }

int system_make_folder(const char *folder, const char *name) {
  char path[PATH_BYTES];
  if (!joined(path, folder, name)) return ENAMETOOLONG;
  return mkdir(path, 0700) == 0 ? 0 : errno;
}

int system_rename_folder(const char *folder, const char *from, const char *to) {
  char old_path[PATH_BYTES], new_path[PATH_BYTES];
  if (!joined(old_path, folder, from) || !joined(new_path, folder, to)) return ENAMETOOLONG;
  return rename(old_path, new_path) == 0 ? 0 : errno;
}

#endif
