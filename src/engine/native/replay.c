#define _GNU_SOURCE
#include "replay.h"

#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <sys/prctl.h>
#include <time.h>
#include "replay-course.h"
#include "stamp.h"
#include "walk.h"

/* What is written comes from so much that neighbours differ, and that stays in the processor's own memory. */
#define SOURCE (4u << 20)
/*
 * So near to its time a request is waited for by looking at the clock. An answer never is: a processor that spins
 * is not there for those who bring it.
 */
#define SPIN_NS 60000
/* How often waking is timed, and after how long a sleep: about as long as a drive takes. */
#define WAKINGS 21
#define WAKING_SLEEP_NS 200000

/* When the next request is to be handed over; FOR_EVER as long as answers are missing that it waits for. */
static uint64_t due_of(const Course *course) {
  const Requests *requests = &course->replay->requests;
  if (course->next == requests->count || course->flying == MOST_IN_FLIGHT) return FOR_EVER;
  size_t answers = (size_t)requests->answers[course->next];
  if (course->answered < answers) return FOR_EVER;
  uint64_t due = course->replay->answered_at[answers] + (uint64_t)requests->waits_ns[course->next];
  return due < course->handing_ns ? 0 : due - course->handing_ns;
}

/* Waits for an answer, or until the next request is due. 0, or an error number. */
static int pass_time(Course *course, uint64_t due, uint64_t now) {
  if (due - now < SPIN_NS) return 0;
  uint64_t long_ns = due == FOR_EVER ? LOOK_NS : due - now - SPIN_NS + 1;
  if (long_ns > LOOK_NS) long_ns = LOOK_NS;
  if (course->flying == 0) {
    system_sleep((unsigned)(long_ns / 1000));
    return 0;
  }
  long entered = ring_enter(&course->ring, 0, 1, long_ns);
  course->woken = 1;
  return entered >= 0 || entered == -ETIME || entered == -EINTR || entered == -EAGAIN ? 0 : (int)-entered;
}

static int replay_all(Course *course) {
  Replay *replay = course->replay;
  for (;;) {
    int error = course_hear(course);
    if (error) return error;
    if (atomic_load(&replay->control[PHASE]) == STOP) return 0;
    if (course->next == replay->requests.count && course->flying == 0) return 0;
    uint64_t due = due_of(course), now = system_now();
    if (due <= now) {
      replay->requests.begun_ns[course->next] = (double)(now + course->handing_ns - course->start);
      size_t number = course->next++;
      error = course_send(course, number);
    } else {
      error = pass_time(course, due, now);
    }
    if (error) return error;
  }
}

static int by_length(const void *a, const void *b) {
  uint64_t one = *(const uint64_t *)a, other = *(const uint64_t *)b;
  return one < other ? -1 : one > other;
}

/* How much later than asked for this thread goes on after it slept: the middle of several times. */
static uint64_t measure_waking(void) {
  uint64_t late[WAKINGS];
  for (size_t i = 0; i < WAKINGS; i++) {
    struct timespec length = {0, WAKING_SLEEP_NS};
    uint64_t before = system_now();
    nanosleep(&length, NULL);
    uint64_t slept = system_now() - before;
    late[i] = slept > WAKING_SLEEP_NS ? slept - WAKING_SLEEP_NS : 0;
  }
  qsort(late, WAKINGS, sizeof *late, by_length);
  return late[WAKINGS / 2];
}

static void *replay_thread(void *given) {
  Replay *replay = given;
  Course course;
  memset(&course, 0, sizeof course);
  course.replay = replay;
  prctl(PR_SET_TIMERSLACK, 1000, 0, 0, 0);
  course.waking_ns = measure_waking();
  int error = ring_open(&course.ring, MOST_IN_FLIGHT);
  if (!error && !(course.ring.features & IORING_FEAT_EXT_ARG)) error = ENOSYS;
  if (error) course_fail(replay, error);
  atomic_fetch_add(&replay->control[READY], 1);
  while (atomic_load(&replay->control[PHASE]) == WAIT) system_sleep(200);
  course.start = replay->answered_at[0] = system_now();
  if (!error && (error = replay_all(&course)) != 0) course_fail(replay, error);
  course_drain(&course);
  ring_close(&course.ring);
  atomic_fetch_add(&replay->control[ENDED], 1);
  return NULL;
}

void replay_free(Replay *replay) {
  system_free_pages(replay->sink);
  system_free_pages(replay->source);
  free(replay->answered_at);
  free(replay->moved);
  free(replay->fds);
  free(replay);
}

/* Memory for what is read and what is written. */
static int make_memory(Replay *replay) {
  const Requests *requests = &replay->requests;
  size_t longest = PAGE;
  for (size_t i = 0; i < requests->count; i++)
    if (requests->lengths[i] > (double)longest) longest = (size_t)requests->lengths[i];
  longest = (longest + PAGE - 1) / PAGE * PAGE;
  replay->sink = system_pages(longest);
  replay->source = system_pages(longest + SOURCE);
  replay->source_pages = (longest + SOURCE) / PAGE;
  replay->answered_at = calloc(requests->count + 1, sizeof *replay->answered_at);
  replay->moved = calloc(requests->count + 1, sizeof *replay->moved);
  if (!replay->sink || !replay->source || !replay->answered_at || !replay->moved) return ENOMEM;
  memset(replay->sink, 0, longest);
  uint64_t seed = system_now() | 1;
  for (size_t at = 0; at < longest + SOURCE; at += sizeof seed) {
    seed ^= seed >> 12, seed ^= seed << 25, seed ^= seed >> 27; /* xorshift64: no drive can compress it */
    memcpy(replay->source + at, &seed, sizeof seed);
  }
  return 0;
}

int replay_start(Replay *replay) {
  int error = make_memory(replay);
  if (!error) error = pthread_create(&replay->thread, NULL, replay_thread, replay);
  if (error) replay_free(replay);
  return error;
}

void replay_join(Replay *replay) {
  pthread_join(replay->thread, NULL);
  replay_free(replay);
}
