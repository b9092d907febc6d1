/*
 * Recorded requests, done again: one thread with one ring takes them in the order of the recording, each when as
 * many answers are there as it waits for and its time after the last of them is over.
 *
 * The order of times is kept at the drive: a request is handed over earlier by what handing over takes.
 */
#ifndef NERRIT_REPLAY_H
#define NERRIT_REPLAY_H

#include <pthread.h>
#include <stdatomic.h>
#include <stddef.h>
#include <stdint.h>
#include "system.h"

/* What a request does. */
enum { REPLAY_READ, REPLAY_WRITE, REPLAY_FLUSH, REPLAY_KIND = 3 };
/* What is set of it beside: nothing waited for its answer; the cache is emptied before, and after it. */
enum { REPLAY_UNHEARD = 4, REPLAY_FLUSH_BEFORE = 8, REPLAY_FLUSH_AFTER = 16 };

/* A request, as src/core/recording/schedule.ts puts them into one array after another. */
typedef struct {
  size_t count;
  const uint8_t *kinds;
  const int32_t *files;    /* by place in fds */
  const double *offsets;   /* in the file, bytes */
  const double *lengths;   /* bytes */
  const double *answers;   /* that it waits for */
  const double *waits_ns;  /* from the last of these answers on; of none, from the beginning on */
  double *begun_ns, *ended_ns; /* since the beginning; as they are where it was not done */
} Requests;

typedef struct {
  _Atomic int32_t *control; /* places of walk.h */
  double *totals;           /* of one lane, walk.h */
  Requests requests;
  int *fds;
  uint8_t *sink, *source; /* what is read goes to one place; what is written comes from all over another */
  size_t source_pages;
  uint64_t *answered_at; /* by how many answers there were */
  uint32_t *moved;       /* bytes of each request so far */
  pthread_t thread;
} Replay;

/* The longest request, bytes. */
#define REPLAY_LONGEST (64u << 20)

/*
 * Starts the thread, which waits to be let go. 0, or an error number; then the replay is freed. The replay and
 * its fds are of malloc; all other memory belongs to the caller, and stays in place until replay_join.
 */
int replay_start(Replay *replay);
/* Waits for the thread to come to its end, and frees the replay. */
void replay_join(Replay *replay);
void replay_free(Replay *replay);

#endif
