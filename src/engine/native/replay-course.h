/*
 * How a replay gets on: which requests went, which are under way, and how much later than the drive answered that is
 * seen. A request is handed to the ring, or done by plain calls where nothing else could go on meanwhile.
 */
#ifndef NERRIT_REPLAY_COURSE_H
#define NERRIT_REPLAY_COURSE_H

#include "replay.h"
#include "ring.h"

/* In flight at once: more than the kernel keeps for a drive (queue/nr_requests is 1023 at most there). */
#define MOST_IN_FLIGHT 1024
/* How long a stop may go unseen. */
#define LOOK_NS 50000000

typedef struct {
  Replay *replay;
  Ring ring;
  uint64_t start;
  size_t next, flying, answered;
  uint64_t handing_ns; /* what handing over takes, a running mean */
  uint64_t waking_ns;  /* how long this thread takes to go on after it was woken */
  int woken;           /* whether it slept until now */
  size_t turn;
} Course;

/* Notes the first error. */
void course_fail(Replay *replay, int error);
/* Sends a request on its way. 0, or an error number. */
int course_send(Course *course, size_t number);
/* Looks at every answer that is there. 0, or an error number. */
int course_hear(Course *course);
/* Waits for what is under way, without sending more: its answers go into memory of this replay. */
void course_drain(Course *course);

#endif
