#define _GNU_SOURCE
#include "replay-course.h"

#include <errno.h>
#include <sys/uio.h>
#include <unistd.h>
#include "stamp.h"
#include "walk.h"

/* What handing over may take at most; a drive that answers meanwhile says nothing of it. */
#define MOST_HANDING_NS 20000

/* Of an entry that answers nobody. */
#define FLUSH_OF_A_WRITE UINT64_MAX


void course_fail(Replay *replay, int error) {
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
      /* One that was answered meanwhile was waited for, not only handed over: it went when that began. */
      if (ring_answer(&course->ring))
        course->replay->requests.begun_ns[number] = (double)(before - course->start);
      else if (took < MOST_HANDING_NS)
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
  /* However short it was, it was not answered before it went. */
  if (now > begun + late) now -= late;
  else if (now > begun) now = begun + (now - begun) / 2;
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
int course_hear(Course *course) {
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

void course_drain(Course *course) {
  while (course->flying > 0) {
    ring_enter(&course->ring, 0, 1, LOOK_NS);
    for (const struct io_uring_cqe *cqe; (cqe = ring_answer(&course->ring)) != NULL;) {
      /* A flush that belongs to a write is not counted by itself. */
      if (cqe->user_data != FLUSH_OF_A_WRITE) fly(course, -1);
      ring_answered(&course->ring);
    }
  }
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
  unsigned wakings = 1;
  if ((kind & REPLAY_KIND) == REPLAY_WRITE)
    wakings += (kind & REPLAY_FLUSH_BEFORE ? 1 : 0) + (kind & REPLAY_FLUSH_AFTER ? 1 : 0);
  if (!error) count(course, number, now, wakings);
  return error;
}

int course_send(Course *course, size_t number) {
  return is_alone(course, number) ? do_alone(course, number) : hand_over(course, number);
}
