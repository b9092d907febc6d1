#define _GNU_SOURCE
#include "replay.h"

#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <sys/prctl.h>
#include <time.h>
#include <unistd.h>
#include "ring.h"
#include "stamp.h"
#include "walk.h"

/* In flight at once: more than the kernel keeps for a drive (queue/nr_requests is 1023 at most there). */
#define MOST_IN_FLIGHT 1024
/* What is written comes from so much that neighbours differ, and that stays in the processor's own memory. */
#define SOURCE (4u << 20)
/*
 * So near to its time a request is waited for by looking at the clock. An answer never is: a processor that spins
 * is not there for those who bring it.
 */
#define SPIN_NS 60000
/* How long a stop may go unseen. */
#define LOOK_NS 50000000
/* What handing over may take at most; a drive that answers meanwhile says nothing of it. */
#define MOST_HANDING_NS 20000

/* How often waking is timed, and after how long a sleep: about as long as a drive takes. */
#define WAKINGS 21
#define WAKING_SLEEP_NS 200000
/* Of an entry that answers nobody. */
#define FLUSH_OF_A_WRITE UINT64_MAX

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

static void fail(Replay *replay, int error) {
  int32_t none = 0;
  atomic_compare_exchange_strong(&replay->control[ERROR_NUMBER], &none, error ? error : EIO);
}

/* Data to write: another stretch each time. */
static uint8_t *source_of(Course *course, size_t bytes) {
  size_t pages = (bytes + PAGE - 1) / PAGE;
  course->turn = (course->turn + pages) % (course->replay->source_pages - pages + 1);
  return course->replay->source + course->turn * PAGE;
}

/* Pushes a flush, which what is pushed next may wait for. */
static void push_flush(Course *course, int fd, uint64_t user_data, uint8_t flags) {
  struct io_uring_sqe *sqe = ring_place(&course->ring);
  sqe->opcode = IORING_OP_FSYNC;
  sqe->fsync_flags = IORING_FSYNC_DATASYNC;
  sqe->flags = flags;
  sqe->fd = fd;
  sqe->user_data = user_data;
  ring_push(&course->ring);
}

/* Pushes a request, or what is left of it. Returns how many entries that took. */
static unsigned push(Course *course, size_t number) {
  Replay *replay = course->replay;
  const Requests *requests = &replay->requests;
  uint32_t moved = replay->moved[number];
  size_t left = (size_t)requests->lengths[number] - moved;
  uint8_t kind = requests->kinds[number];
  int fd = replay->fds[requests->files[number]];
  int linked = (kind & REPLAY_FLUSH_BEFORE) != 0 && moved == 0;
  if ((kind & REPLAY_KIND) == REPLAY_FLUSH) {
    push_flush(course, fd, number, 0);
    return 1;
  }
  if (linked) push_flush(course, fd, FLUSH_OF_A_WRITE, IOSQE_IO_LINK);
  struct io_uring_sqe *sqe = ring_place(&course->ring);
  sqe->fd = fd;
  sqe->user_data = number;
  sqe->off = (uint64_t)requests->offsets[number] + moved;
  sqe->len = (uint32_t)left;
  switch (kind & REPLAY_KIND) {
    case REPLAY_WRITE:
      sqe->opcode = IORING_OP_WRITE;
      sqe->addr = (uint64_t)(uintptr_t)source_of(course, left);
      if (kind & REPLAY_FLUSH_AFTER) sqe->rw_flags = RWF_DSYNC;
      break;
    default:
      sqe->opcode = IORING_OP_READ;
      sqe->addr = (uint64_t)(uintptr_t)replay->sink;
  }
  ring_push(&course->ring);
  return linked ? 2 : 1;
}

/* Counts what is under way, for whoever looks on. */
static void fly(Course *course, int more) {
  course->flying += (size_t)more;
  atomic_store_explicit(&course->replay->control[IN_FLIGHT], (int32_t)course->flying, memory_order_relaxed);
}

/* Hands over one request. Alone, so that the kernel does not join it with its neighbours. 0, or an error number. */
static int hand_over(Course *course, size_t number) {
  unsigned pushed = push(course, number);
  for (;;) {
    uint64_t before = system_now();
    long taken = ring_enter(&course->ring, pushed, 0, FOR_EVER);
    uint64_t took = system_now() - before;
    if (taken > 0 && (pushed -= (unsigned)taken) == 0) {
      fly(course, +1);
      /* One that was answered meanwhile was waited for, not only handed over. */
      if (took < MOST_HANDING_NS && !ring_answer(&course->ring))
        course->handing_ns = (7 * course->handing_ns + took) / 8;
      return 0;
    }
    if (taken < 0 && taken != -EINTR && taken != -EAGAIN && taken != -EBUSY) return (int)-taken;
    if (atomic_load(&course->replay->control[PHASE]) == STOP) return 0;
  }
}

/*
 * Notes an answer. What happens after it in the recording was timed from the drive's answer on, so it is told as
 * of then: earlier than it was seen by what waking takes, for each time that this thread was woken since.
 */
static void count(Course *course, size_t number, uint64_t now, unsigned wakings) {
  Replay *replay = course->replay;
  uint64_t begun = course->start + (uint64_t)replay->requests.begun_ns[number];
  uint64_t late = wakings * course->waking_ns;
  now = now > begun + late ? now - late : now > begun ? begun + (now - begun) / 2 : now;
  uint8_t kind = replay->requests.kinds[number];
  replay->requests.ended_ns[number] = (double)(now - course->start);
  if ((kind & REPLAY_KIND) != REPLAY_FLUSH) {
    int way = (kind & REPLAY_KIND) == REPLAY_WRITE;
    replay->totals[READ_BYTES + way] += replay->requests.lengths[number];
    replay->totals[READ_REQUESTS + way] += 1;
  }
  if (!(kind & REPLAY_UNHEARD)) replay->answered_at[++course->answered] = now;
}

/* Looks at every answer that is there. 0, or an error number. */
static int hear(Course *course) {
  Replay *replay = course->replay;
  int error = 0;
  for (const struct io_uring_cqe *cqe; (cqe = ring_answer(&course->ring)) != NULL;) {
    size_t number = cqe->user_data;
    int moved = cqe->res, again = moved == -EINTR || moved == -EAGAIN;
    if (number == FLUSH_OF_A_WRITE) {
      ring_answered(&course->ring);
      if (moved < 0 && !error) error = -moved;
      continue;
    }
    int flush = (replay->requests.kinds[number] & REPLAY_KIND) == REPLAY_FLUSH;
    ring_answered(&course->ring);
    fly(course, -1);
    uint64_t now = system_now();
    if (moved < 0 && !again) error = error ? error : -moved;
    else if (moved == 0 && !flush) error = EIO;
    else if (!again) replay->moved[number] += (uint32_t)moved;
    if (error) continue;
    if (again || (!flush && replay->moved[number] < replay->requests.lengths[number]))
      error = hand_over(course, number);
    else
      count(course, number, now, course->woken ? 1 : 0);
  }
  course->woken = 0;
  return error;
}

/*
 * Whether a request with a flush is alone: nothing is under way, and what comes next waits for it. Then it is done
 * by plain calls, since a ring gives every flush to a thread of its own, which takes as long as the flush.
 */
static int is_alone(const Course *course, size_t number) {
  const Requests *requests = &course->replay->requests;
  uint8_t kind = requests->kinds[number];
  if ((kind & REPLAY_KIND) != REPLAY_FLUSH && !(kind & (REPLAY_FLUSH_BEFORE | REPLAY_FLUSH_AFTER))) return 0;
  if (course->flying > 0 || (kind & REPLAY_UNHEARD)) return 0;
  return number + 1 == requests->count || requests->answers[number + 1] > (double)course->answered;
}

/* Does a request that is alone. 0, or an error number. */
static int do_alone(Course *course, size_t number) {
  Replay *replay = course->replay;
  const Requests *requests = &replay->requests;
  uint8_t kind = requests->kinds[number];
  int fd = replay->fds[requests->files[number]], error = 0;
  fly(course, +1);
  if ((kind & REPLAY_FLUSH_BEFORE) || (kind & REPLAY_KIND) == REPLAY_FLUSH)
    error = fdatasync(fd) == 0 ? 0 : errno;
  while (!error && replay->moved[number] < requests->lengths[number]) {
    size_t moved = replay->moved[number];
    struct iovec from = {source_of(course, (size_t)requests->lengths[number] - moved),
                         (size_t)requests->lengths[number] - moved};
    ssize_t written = pwritev2(fd, &from, 1, (off_t)(requests->offsets[number] + (double)moved),
                               kind & REPLAY_FLUSH_AFTER ? RWF_DSYNC : 0);
    if (written < 0 && errno != EINTR) error = errno;
    if (written == 0) error = EIO;
    if (written > 0) replay->moved[number] += (uint32_t)written;
  }
  fly(course, -1);
  uint64_t now = system_now();
  /* Woken after each flush and after the write itself. */
  unsigned wakings = (kind & REPLAY_KIND) == REPLAY_FLUSH ? 1 : 1 + (kind & REPLAY_FLUSH_BEFORE ? 1 : 0) + (kind & REPLAY_FLUSH_AFTER ? 1 : 0);
  if (!error) count(course, number, now, wakings);
  return error;
}

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
    int error = hear(course);
    if (error) return error;
    if (atomic_load(&replay->control[PHASE]) == STOP) return 0;
    if (course->next == replay->requests.count && course->flying == 0) return 0;
    uint64_t due = due_of(course), now = system_now();
    if (due <= now) {
      replay->requests.begun_ns[course->next] = (double)(now + course->handing_ns - course->start);
      size_t number = course->next++;
      error = is_alone(course, number) ? do_alone(course, number) : hand_over(course, number);
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
  if (error) fail(replay, error);
  atomic_fetch_add(&replay->control[READY], 1);
  while (atomic_load(&replay->control[PHASE]) == WAIT) system_sleep(200);
  course.start = replay->answered_at[0] = system_now();
  if (!error && (error = replay_all(&course)) != 0) fail(replay, error);
  /* What is under way still writes into memory of this replay. */
  while (course.flying > 0) {
    if (ring_enter(&course.ring, 0, 1, LOOK_NS) < 0 && !ring_answer(&course.ring)) continue;
    for (; ring_answer(&course.ring); course.flying--) ring_answered(&course.ring);
  }
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
