#define _GNU_SOURCE
#include "ring-lane.h"

#include <errno.h>
#include <stdlib.h>
#include <sys/uio.h>
#include "ring.h"
#include "walk.h"

/* Puts a slot's request, or what is left of it, into the submission queue. */
static void submit(Walk *walk, Ring *ring, Slot *slot, size_t number) {
  struct io_uring_sqe *sqe = ring_place(ring);
  uint64_t at;
  ring->vectors[number].iov_base = slot->at + slot->done;
  ring->vectors[number].iov_len = walk->block - slot->done;
  sqe->opcode = slot->writing ? IORING_OP_WRITEV : IORING_OP_READV;
  sqe->fd = (int)walk_file(walk, slot, &at);
  sqe->off = at;
  sqe->addr = (uint64_t)(uintptr_t)&ring->vectors[number];
  sqe->len = 1;
  sqe->user_data = number;
  ring_push(ring);
}

void *ring_lane(void *given) {
  Lane *lane = given;
  Walk *walk = lane->walk;
  Ring ring;
  int error = ring_open(&ring, (unsigned)lane->depth);
  if (error) walk_fail(walk, error);
  atomic_fetch_add(&walk->control[READY], 1);
  int phase;
  while ((phase = atomic_load(&walk->control[PHASE])) == WAIT) system_sleep(200);
  size_t flying = 0, waiting = 0;
  for (size_t i = 0; !error && phase != STOP && i < lane->depth && walk_take(lane, &lane->slots[i]); i++) {
    lane->slots[i].begun = system_now();
    submit(walk, &ring, &lane->slots[i], i);
    waiting++;
  }
  while (flying + waiting > 0) {
    long entered = ring_enter(&ring, (unsigned)waiting, 1, FOR_EVER);
    if (entered < 0 && entered != -EINTR && entered != -EAGAIN && entered != -EBUSY) {
      walk_fail(walk, (int)-entered);
      break;
    }
    if (entered > 0) {
      flying += (size_t)entered;
      waiting -= (size_t)entered;
    }
    phase = atomic_load(&walk->control[PHASE]);
    uint64_t ended = system_now();
    for (const struct io_uring_cqe *cqe; (cqe = ring_answer(&ring)) != NULL;) {
      size_t number = cqe->user_data;
      Slot *slot = &lane->slots[number];
      int moved = cqe->res, again = moved == -EINTR || moved == -EAGAIN;
      ring_answered(&ring);
      flying--;
      if (moved <= 0 && !again) {
        walk_fail(walk, moved < 0 ? -moved : EIO);
        error = 1;
        continue;
      }
      if (!again) slot->done += (size_t)moved;
      if (slot->done < walk->block) {
        submit(walk, &ring, slot, number);
        waiting++;
        continue;
      }
      walk_count(lane, slot, ended, phase);
      if (error || phase == STOP || !walk_take(lane, slot)) continue;
      slot->begun = slot->writing || walk->checked ? system_now() : ended;
      submit(walk, &ring, slot, number);
      waiting++;
    }
  }
  ring_close(&ring);
  atomic_fetch_add(&walk->control[ENDED], 1);
  return NULL;
}

int ring_error(void) {
  Ring ring;
  int error = ring_open(&ring, 2);
  ring_close(&ring);
  return error;
}

int takes_at_once(int fd, size_t bytes) {
  int does = 0;
  void *data = system_pages(bytes);
  if (!data) return 0;
  struct iovec vector = {data, bytes};
  for (int i = 0; i < 5 && !does; i++) does = preadv2(fd, &vector, 1, 0, RWF_NOWAIT) > 0;
  system_free_pages(data);
  return does;
}
