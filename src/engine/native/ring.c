#define _GNU_SOURCE
#include "ring.h"

#include <errno.h>
#include <linux/time_types.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/syscall.h>
#include <unistd.h>

int ring_open(Ring *ring, unsigned entries) {
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
  ring->features = p.features;
  return 0;
}

void ring_close(Ring *ring) {
  if (ring->sq) munmap(ring->sq, ring->sq_bytes);
  if (ring->cq) munmap(ring->cq, ring->cq_bytes);
  if (ring->sqes && (void *)ring->sqes != MAP_FAILED) munmap(ring->sqes, ring->sqe_bytes);
  if (ring->fd >= 0) close(ring->fd);
  free(ring->vectors);
}

struct io_uring_sqe *ring_place(Ring *ring) {
  uint32_t place = atomic_load_explicit(ring->sq_tail, memory_order_relaxed) & ring->sq_mask;
  memset(&ring->sqes[place], 0, sizeof ring->sqes[place]);
  return &ring->sqes[place];
}

void ring_push(Ring *ring) {
  uint32_t tail = atomic_load_explicit(ring->sq_tail, memory_order_relaxed);
  uint32_t place = tail & ring->sq_mask;
  ring->sq_array[place] = place;
  atomic_store_explicit(ring->sq_tail, tail + 1, memory_order_release);
}

long ring_enter(Ring *ring, unsigned pushed, unsigned answers, uint64_t nanoseconds) {
  struct __kernel_timespec time = {(long long)(nanoseconds / 1000000000),
                                   (long long)(nanoseconds % 1000000000)};
  struct io_uring_getevents_arg waiting = {.ts = (uint64_t)(uintptr_t)&time};
  int timed = nanoseconds != FOR_EVER;
  unsigned flags = (answers ? IORING_ENTER_GETEVENTS : 0) | (timed ? IORING_ENTER_EXT_ARG : 0);
  long taken = syscall(__NR_io_uring_enter, ring->fd, pushed, answers, flags,
                       timed ? (void *)&waiting : NULL, timed ? sizeof waiting : 0);
  return taken < 0 ? -errno : taken;
}

const struct io_uring_cqe *ring_answer(Ring *ring) {
  uint32_t head = atomic_load_explicit(ring->cq_head, memory_order_relaxed);
  uint32_t tail = atomic_load_explicit(ring->cq_tail, memory_order_acquire);
  return head == tail ? NULL : &ring->cqes[head & ring->cq_mask];
}

void ring_answered(Ring *ring) {
  uint32_t head = atomic_load_explicit(ring->cq_head, memory_order_relaxed);
  atomic_store_explicit(ring->cq_head, head + 1, memory_order_release);
}
