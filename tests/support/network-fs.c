/*
 * A share for tests: a server that keeps one medium in memory, and a file system (FUSE) whose files lie
 * on it, reached over TCP. One connection for each thread, so that requests overlap as on a real share.
 *
 * Usage: network-fs serve PORT | network-fs mount MOUNT ADDRESS PORT
 */
#define FUSE_USE_VERSION 31
#define _GNU_SOURCE
#include <arpa/inet.h>
#include <errno.h>
#include <fuse.h>
#include <netinet/tcp.h>
#include <pthread.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <sys/statvfs.h>
#include <unistd.h>

#define MEDIUM (256u << 20)
#define MOST 64

typedef struct {
  uint32_t writing, size;
  uint64_t at;
} Request;

static uint8_t *medium;
static const char *address;
static int port;

static int whole(int fd, void *data, size_t size, int writing) {
  for (size_t done = 0; done < size;) {
    ssize_t moved = writing ? send(fd, (char *)data + done, size - done, MSG_NOSIGNAL)
                            : recv(fd, (char *)data + done, size - done, 0);
    if (moved <= 0) return 0;
    done += (size_t)moved;
  }
  return 1;
}

static void *serve_one(void *given) {
  int fd = (int)(intptr_t)given;
  Request r;
  while (whole(fd, &r, sizeof r, 0) && r.at + r.size <= MEDIUM) {
    uint32_t done = r.size;
    if (r.writing ? !whole(fd, medium + r.at, r.size, 0) || !whole(fd, &done, sizeof done, 1)
                  : !whole(fd, medium + r.at, r.size, 1))
      break;
  }
  close(fd);
  return NULL;
}

static int serve(void) {
  medium = calloc(1, MEDIUM);
  int one = 1, listener = socket(AF_INET, SOCK_STREAM, 0);
  struct sockaddr_in own = {.sin_family = AF_INET, .sin_port = htons((uint16_t)port)};
  setsockopt(listener, SOL_SOCKET, SO_REUSEADDR, &one, sizeof one);
  if (!medium || bind(listener, (struct sockaddr *)&own, sizeof own) || listen(listener, 64)) return 1;
  for (;;) {
    int fd = accept(listener, NULL, NULL);
    pthread_t thread;
    setsockopt(fd, IPPROTO_TCP, TCP_NODELAY, &one, sizeof one);
    if (fd >= 0 && pthread_create(&thread, NULL, serve_one, (void *)(intptr_t)fd) == 0)
      pthread_detach(thread);
  }
}

static __thread int connection = -1;

static int ask(int writing, char *data, size_t size, off_t at) {
  if (connection < 0) {
    int one = 1;
    struct sockaddr_in there = {.sin_family = AF_INET, .sin_port = htons((uint16_t)port)};
    inet_pton(AF_INET, address, &there.sin_addr);
    connection = socket(AF_INET, SOCK_STREAM, 0);
    setsockopt(connection, IPPROTO_TCP, TCP_NODELAY, &one, sizeof one);
    if (connect(connection, (struct sockaddr *)&there, sizeof there)) return -EIO;
  }
  Request r = {(uint32_t)writing, (uint32_t)size, (uint64_t)at};
  uint32_t done = 0;
  if (!whole(connection, &r, sizeof r, 1)) return -EIO;
  if (!whole(connection, data, size, writing)) return -EIO;
  if (writing && !whole(connection, &done, sizeof done, 0)) return -EIO;
  return (int)size;
}

static struct {
  char name[256];
  off_t size;
} files[MOST];
static pthread_mutex_t lock = PTHREAD_MUTEX_INITIALIZER;

static int find(const char *path) {
  for (int i = 0; i < MOST; i++)
    if (files[i].name[0] && !strcmp(files[i].name, path + 1)) return i;
  return -1;
}
static int f_getattr(const char *path, struct stat *st, struct fuse_file_info *fi) {
  memset(st, 0, sizeof *st);
  st->st_nlink = 1;
  if (!strcmp(path, "/")) {
    st->st_mode = S_IFDIR | 0755;
    return 0;
  }
  int i = fi ? (int)fi->fh : find(path);
  if (i < 0) return -ENOENT;
  st->st_mode = S_IFREG | 0600;
  st->st_size = files[i].size;
  return 0;
}
static int f_readdir(const char *path, void *buf, fuse_fill_dir_t fill, off_t off,
                     struct fuse_file_info *fi, enum fuse_readdir_flags flags) {
  (void)path, (void)off, (void)fi, (void)flags;
  for (int i = 0; i < MOST; i++)
    if (files[i].name[0]) fill(buf, files[i].name, NULL, 0, 0);
  return 0;
}
static int f_create(const char *path, mode_t mode, struct fuse_file_info *fi) {
  (void)mode;
  pthread_mutex_lock(&lock);
  int i = 0;
  while (i < MOST && files[i].name[0]) i++;
  if (i < MOST) {
    snprintf(files[i].name, sizeof files[i].name, "%s", path + 1);
    files[i].size = 0;
    fi->fh = (uint64_t)i;
  }
  pthread_mutex_unlock(&lock);
  return i < MOST ? 0 : -ENOSPC;
}
static int f_open(const char *path, struct fuse_file_info *fi) {
  int i = find(path);
  fi->fh = (uint64_t)(i < 0 ? 0 : i);
  return i < 0 ? -ENOENT : 0;
}
static int f_read(const char *path, char *buf, size_t size, off_t at, struct fuse_file_info *fi) {
  (void)path;
  off_t end = files[fi->fh].size;
  if (at >= end) return 0;
  if ((off_t)size > end - at) size = (size_t)(end - at);
  return ask(0, buf, size, at);
}
static int f_write(const char *path, const char *buf, size_t size, off_t at, struct fuse_file_info *fi) {
  (void)path;
  if ((uint64_t)at + size > MEDIUM) return -ENOSPC;
  int done = ask(1, (char *)buf, size, at);
  pthread_mutex_lock(&lock);
  if (done > 0 && at + done > files[fi->fh].size) files[fi->fh].size = at + done;
  pthread_mutex_unlock(&lock);
  return done;
}
static int f_truncate(const char *path, off_t size, struct fuse_file_info *fi) {
  int i = fi ? (int)fi->fh : find(path);
  if (i < 0) return -ENOENT;
  files[i].size = size;
  return 0;
}
static int f_unlink(const char *path) {
  int i = find(path);
  if (i < 0) return -ENOENT;
  files[i].name[0] = 0;
  return 0;
}
static int f_rename(const char *from, const char *to, unsigned int flags) {
  (void)flags;
  int i = find(from);
  if (i < 0) return -ENOENT;
  snprintf(files[i].name, sizeof files[i].name, "%s", to + 1);
  return 0;
}
static int f_fsync(const char *path, int data, struct fuse_file_info *fi) {
  (void)path, (void)data, (void)fi;
  return 0;
}
static int f_statfs(const char *path, struct statvfs *st) {
  (void)path;
  memset(st, 0, sizeof *st);
  st->f_bsize = st->f_frsize = 4096;
  st->f_blocks = st->f_bfree = st->f_bavail = MEDIUM / 4096;
  st->f_namemax = 255;
  return 0;
}

static const struct fuse_operations operations = {
    .getattr = f_getattr, .readdir = f_readdir,   .create = f_create, .open = f_open,
    .read = f_read,       .write = f_write,       .truncate = f_truncate,
    .unlink = f_unlink,   .rename = f_rename,     .fsync = f_fsync,   .statfs = f_statfs,
};

int main(int argc, char **argv) {
  if (argc == 3 && !strcmp(argv[1], "serve")) {
    port = atoi(argv[2]);
    return serve();
  }
  if (argc != 5) return 1;
  address = argv[3];
  port = atoi(argv[4]);
  char *words[] = {argv[0], argv[2], "-f", "-o", "allow_other", NULL};
  return fuse_main(5, words, &operations, NULL);
}
