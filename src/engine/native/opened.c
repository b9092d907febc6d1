#define _GNU_SOURCE
#include "opened.h"

#include <errno.h>
#include <fcntl.h>
#include <limits.h>
#include <poll.h>
#include <pthread.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/eventfd.h>
#include <sys/fanotify.h>
#include <sys/stat.h>
#include <time.h>
#include <unistd.h>

struct Opened {
  int events, over;
  pthread_t thread;
  pthread_mutex_t lock;
  Open *list;
  size_t count, room;
  uint64_t lost;
};

static uint64_t now_ns(void) {
  struct timespec now;
  clock_gettime(CLOCK_MONOTONIC, &now);
  return (uint64_t)now.tv_sec * 1000000000ull + (uint64_t)now.tv_nsec;
}

static void note(Opened *opened, Open one) {
  pthread_mutex_lock(&opened->lock);
  if (opened->count == opened->room) {
    size_t room = opened->room ? opened->room * 2 : 256;
    Open *list = realloc(opened->list, room * sizeof *list);
    if (list) {
      opened->list = list;
      opened->room = room;
    }
  }
  if (one.path && opened->count < opened->room) {
    opened->list[opened->count++] = one;
  } else {
    free(one.path);
    opened->lost++;
  }
  pthread_mutex_unlock(&opened->lock);
}

static Open open_of(int fd, int32_t thread) {
  char link[64], path[PATH_MAX];
  struct stat file;
  Open one = {now_ns(), 0, thread, NULL};
  snprintf(link, sizeof link, "/proc/self/fd/%d", fd);
  ssize_t length = readlink(link, path, sizeof path);
  if (length > 0) one.path = strndup(path, (size_t)length);
  if (fstat(fd, &file) == 0) one.bytes = (uint64_t)file.st_size;
  return one;
}

/* Whoever opens a file waits for the answer, so that its moment lies within the call. */
static void answer(Opened *opened, const struct fanotify_event_metadata *event) {
  if (event->mask & FAN_Q_OVERFLOW) note(opened, (Open){0});
  if (event->fd < 0) return;
  note(opened, open_of(event->fd, event->pid));
  struct fanotify_response allow = {event->fd, FAN_ALLOW};
  if (write(opened->events, &allow, sizeof allow) < 0) opened->lost++;
  close(event->fd);
}

static void *listen_on(void *given) {
  Opened *opened = given;
  _Alignas(struct fanotify_event_metadata) char data[8192];
  struct pollfd on[] = {{opened->events, POLLIN, 0}, {opened->over, POLLIN, 0}};
  while (poll(on, 2, -1) > 0 || errno == EINTR) {
    if (on[1].revents) break;
    ssize_t length = read(opened->events, data, sizeof data);
    const struct fanotify_event_metadata *event = (void *)data;
    for (; FAN_EVENT_OK(event, length); event = FAN_EVENT_NEXT(event, length)) answer(opened, event);
  }
  return NULL;
}

Opened *opened_listen(const char *place, int *error) {
  Opened *opened = calloc(1, sizeof *opened);
  if (!opened) {
    *error = ENOMEM;
    return NULL;
  }
  pthread_mutex_init(&opened->lock, NULL);
  opened->over = eventfd(0, EFD_CLOEXEC);
  opened->events = fanotify_init(
      FAN_CLASS_CONTENT | FAN_CLOEXEC | FAN_NONBLOCK | FAN_REPORT_TID | FAN_UNLIMITED_QUEUE,
      O_RDONLY | O_CLOEXEC | O_LARGEFILE);
  if (opened->over >= 0 && opened->events >= 0 &&
      fanotify_mark(opened->events, FAN_MARK_ADD | FAN_MARK_MOUNT, FAN_OPEN_PERM, AT_FDCWD, place) == 0 &&
      (*error = pthread_create(&opened->thread, NULL, listen_on, opened)) == 0)
    return opened;
  if (*error == 0) *error = errno;
  if (opened->events >= 0) close(opened->events);
  if (opened->over >= 0) close(opened->over);
  free(opened);
  return NULL;
}

size_t opened_take(Opened *opened, Open **list, uint64_t *lost) {
  pthread_mutex_lock(&opened->lock);
  size_t count = opened->count;
  *list = opened->list;
  *lost = opened->lost;
  opened->list = NULL;
  opened->count = opened->room = 0;
  opened->lost = 0;
  pthread_mutex_unlock(&opened->lock);
  return count;
}

void opened_end(Opened *opened) {
  uint64_t one = 1;
  while (write(opened->over, &one, sizeof one) < 0 && errno == EINTR) continue;
  pthread_join(opened->thread, NULL);
  /* Closing lets go whoever still waits. */
  close(opened->events);
  close(opened->over);
  for (size_t i = 0; i < opened->count; i++) free(opened->list[i].path);
  free(opened->list);
  pthread_mutex_destroy(&opened->lock);
  free(opened);
}
