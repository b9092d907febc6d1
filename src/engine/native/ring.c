#define _GNU_SOURCE
#include "ring.h"

#include <errno.h>
#include <linux/io_uring.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/syscall.h>
#include <sys/uio.h>
#include <unistd.h>
#include "walk.h"

typedef struct {
  int fd;
  void *sq, *cq;
  size_t sq_bytes, cq_bytes, sqe_bytes;
  struct io_uring_sqe *sqes;
  _Atomic uint32_t *sq_tail, *cq_head, *cq_tail;
  uint32_t *sq_array, sq_mask, cq_mask;
  struct io_uring_cqe *cqes;
  struct iovec *vectors; /* one for each request */
} Ring;

static int open_ring(Ring *ring, unsigned entries) {
  struct io_uring_params p;
  memset(&p, 0, sizeof p);
  memset(ring, 0, sizeof *ring);
  ring->vectors = calloc(entries, sizeof *ring->vectors);
  ring->fd = (int)syscall(__NR_io_uring_setup, entries, &p);
  if (ring->fd < 0) return errno;
  if (!ring->vectors) return ENOMEM;
  ring->sq_bytes = p.sq_off.array + p.sq_entries * sizeof(uint32_t);
  ring->cq_bytes = p.cq_off.cqes + p.cq_entries * sizeof(struct io_uring_cqe);
  ring->sqe_bytes = p.sq_entries * sizeof(struct io_uring_sqe);
  int shared = MAP_SHARED | MAP_POPULATE, rw = PROT_READ | PROT_WRITE;
  uint8_t *sq = mmap(NULL, ring->sq_bytes, rw, shared, ring->fd, IORING_OFF_SQ_RING);
  uint8_t *cq = mmap(NULL, ring->cq_bytes, rw, shared, ring->fd, IORING_OFF_CQ_RING);
  ring->sqes = mmap(NULL, ring->sqe_bytes, rw, shared, ring->fd, IORING_OFF_SQES);
  if (sq == MAP_FAILED || cq == MAP_FAILED || (void *)ring->sqes == MAP_FAILED) return errno;
  ring->sq = sq;
  ring->cq = cq;
  ring->sq_tail = (_Atomic uint32_t *)(sq + p.sq_off.tail);
  ring->sq_mask = *(uint32_t *)(sq + p.sq_off.ring_mask);
  ring->sq_array = (uint32_t *)(sq + p.sq_off.array);
  ring->cq_head = (_Atomic uint32_t *)(cq + p.cq_off.head);
  ring->cq_tail = (_Atomic uint32_t *)(cq + p.cq_off.tail);
  ring->cq_mask = *(uint32_t *)(cq + p.cq_off.ring_mask);
  ring->cqes = (struct io_uring_cqe *)(cq + p.cq_off.cqes);
  return 0;
}

static void close_ring(Ring *ring) {
  if (ring->sq) munmap(ring->sq, ring->sq_bytes);
  if (ring->cq) munmap(ring->cq, ring->cq_bytes);
  if (ring->sqes && (void *)ring->sqes != MAP_FAILED) munmap(ring->sqes, ring->sqe_bytes);
  if (ring->fd >= 0) close(ring->fd);
  free(ring->vectors);
}

/* Puts a slot's request, or what is left of it, into the submission queue. */
static void submit(Walk *walk, Ring *ring, Slot *slot, size_t number) {
  uint32_t tail = atomic_load_explicit(ring->sq_tail, memory_order_relaxed);
  uint32_t place = tail & ring->sq_mask;
  struct io_uring_sqe *sqe = &ring->sqes[place];
  uint64_t at;
  memset(sqe, 0, sizeof *sqe);
  ring->vectors[number].iov_base = slot->at + slot->done;
  ring->vectors[number].iov_len = walk->block - slot->done;
  sqe->opcode = slot->writing ? IORING_OP_WRITEV : IORING_OP_READV;
  sqe->fd = (int)walk_file(walk, slot, &at);
  sqe->off = at;
  sqe->addr = (uint64_t)(uintptr_t)&ring->vectors[number];
  sqe->len = 1;
  sqe->user_data = number;
  ring->sq_array[place] = place;
  atomic_store_explicit(ring->sq_tail, tail + 1, memory_order_release);
}

void *ring_lane(void *given) {
  Lane *lane = given;
  Walk *walk = lane->walk;
  Ring ring;
  int error = open_ring(&ring, (unsigned)lane->depth);
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
    long entered = syscall(__NR_io_uring_enter, ring.fd, waiting, 1, IORING_ENTER_GETEVENTS, NULL, 0);
    if (entered < 0 && errno != EINTR && errno != EAGAIN && errno != EBUSY) {
      walk_fail(walk, errno);
      break;
    }
    if (entered > 0) {
      flying += (size_t)entered;
      waiting -= (size_t)entered;
    }
    phase = atomic_load(&walk->control[PHASE]);
    uint32_t head = atomic_load_explicit(ring.cq_head, memory_order_relaxed);
    uint32_t tail = atomic_load_explicit(ring.cq_tail, memory_order_acquire);
    uint64_t ended = system_now();
    for (; head != tail; head++) {
      struct io_uring_cqe *cqe = &ring.cqes[head & ring.cq_mask];
      Slot *slot = &lane->slots[cqe->user_data];
      flying--;
      int again = cqe->res == -EINTR || cqe->res == -EAGAIN;
      if (cqe->res <= 0 && !again) {
        walk_fail(walk, cqe->res < 0 ? -cqe->res : EIO);
        error = 1;
        continue;
      }
      if (!again) slot->done += (size_t)cqe->res;
      if (slot->done < walk->block) {
        submit(walk, &ring, slot, cqe->user_data);
        waiting++;
        continue;
      }
      walk_count(lane, slot, ended, phase);
      if (error || phase == STOP || !walk_take(lane, slot)) continue;
      slot->begun = slot->writing || walk->checked ? system_now() : ended;
      submit(walk, &ring, slot, cqe->user_data);
      waiting++;
    }
    atomic_store_explicit(ring.cq_head, head, memory_order_release);
  }
  close_ring(&ring);
  atomic_fetch_add(&walk->control[ENDED], 1);
  return NULL;
}

int ring_error(void) {
  Ring ring;
  int error = open_ring(&ring, 2);
  close_ring(&ring);
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
