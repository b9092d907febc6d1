/* Which files of a mount are opened, by whom and when (fanotify(7)): what a call's file descriptor stands for. */
#ifndef NERRIT_OPENED_H
#define NERRIT_OPENED_H

#include <stddef.h>
#include <stdint.h>

typedef struct Opened Opened;

/* A file while it was being opened: by which thread, at which moment of the monotonic clock. */
typedef struct {
  uint64_t ns;
  uint64_t bytes; /* its size then */
  int32_t thread;
  char *path;
} Open;

/* Begins to listen to a place's mount; each open waits until it is noted. NULL, and the error number. */
Opened *opened_listen(const char *place, int *error);

/* What was noted since; the caller frees the paths and the list. `lost` counts what was not. */
size_t opened_take(Opened *opened, Open **list, uint64_t *lost);

void opened_end(Opened *opened);

#endif
