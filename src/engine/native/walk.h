/*
 * Requests in flight: the part of measuring that must cost next to nothing.
 *
 * A lane walks over a medium, alone or together with others: it takes the next block, moves it and
 * counts it in memory that whoever started the walk reads. Lanes come in two kinds: a thread that holds
 * one request at a time, on any system, and a ring that holds many at once (ring.h).
 *
 * Places in the shared memory are those of src/engine/lanes/counters.ts.
 */
#ifndef NERRIT_WALK_H
#define NERRIT_WALK_H

#include <pthread.h>
#include <stdatomic.h>
#include <stddef.h>
#include <stdint.h>
#include "system.h"

/* Places in the control words, and what the lanes are told to do. */
enum { PHASE, CURSOR, READY, ENDED, ERROR_NUMBER, FAULTS, IN_FLIGHT, CONTROL_WORDS = 8 };
enum { WAIT, LEAD_IN, COUNTING, STOP };
/* Places in a lane's totals. */
enum { READ_BYTES, WRITTEN_BYTES, READ_REQUESTS, WRITE_REQUESTS, MAX_READ_NS, MAX_WRITE_NS, TOTALS };

/* One request in flight. */
typedef struct {
  uint8_t *data; /* page-aligned memory: the block, or a pool that blocks are taken from */
  uint8_t *at;   /* where in it this request's block lies */
  size_t turn;
  uint64_t offset; /* on the medium, bytes */
  size_t done;
  int writing;
  uint64_t begun; /* nanoseconds */
} Slot;

struct Walk;

typedef struct {
  struct Walk *walk;
  size_t number, depth;
  uint64_t random;
  Slot *slots;
  uint64_t last;
} Lane;

typedef struct Walk {
  _Atomic int32_t *control;
  double *totals;      /* TOTALS for each lane */
  int32_t *histograms; /* two for each lane: reading, writing */
  size_t buckets;
  double *faults; /* kind, offset, bytes of each */
  size_t most_faults;
  File *fds;
  size_t files;
  uint64_t file_bytes;
  size_t block;
  uint64_t first, blocks;
  int random, once;
  double write_share;
  uint32_t run, generation;
  int generated, checked;
  double compressible;
  size_t pool;  /* bytes of ready data for each request in flight */
  size_t depth; /* requests in flight, of all lanes together */
  size_t lanes;
  uint64_t seed;
  void *(*lane)(void *); /* what a lane does: thread_lane, or the ring's */
  pthread_t *threads;
  Lane *each;
} Walk;

/* Takes the next block. 0 at the end of a walk that is done once. */
int walk_take(Lane *lane, Slot *slot);
/* The file of a request, and where in it the rest of it goes. */
File walk_file(const Walk *walk, const Slot *slot, uint64_t *at);
/* Counts a request that has ended, and holds what it read against what was written. */
void walk_count(Lane *lane, const Slot *slot, uint64_t ended, int phase);
/* Notes the first error of all lanes. */
void walk_fail(Walk *walk, int error);

/* One request at a time. */
void *thread_lane(void *lane);

/*
 * Gets memory and starts the lanes, which wait to be let go. 0, or ENOMEM: then the walk is freed. The
 * walk and its fds are of malloc; control, totals, histograms and faults belong to the caller, and must
 * stay in place until walk_join.
 */
int walk_start(Walk *walk);
/* Waits for the lanes to come to their end, and frees the walk. */
void walk_join(Walk *walk);
void walk_free(Walk *walk);

#endif
