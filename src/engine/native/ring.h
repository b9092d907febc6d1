/*
 * The kernel's submission and completion queues (io_uring(7)), by plain system calls. Linux alone has them.
 */
#ifndef NERRIT_RING_H
#define NERRIT_RING_H

#include <linux/io_uring.h>
#include <stdatomic.h>
#include <stddef.h>
#include <stdint.h>
#include <sys/uio.h>

typedef struct {
  int fd;
  void *sq, *cq;
  size_t sq_bytes, cq_bytes, sqe_bytes;
  struct io_uring_sqe *sqes;
  _Atomic uint32_t *sq_tail, *cq_head, *cq_tail;
  uint32_t *sq_array, sq_mask, cq_mask;
  struct io_uring_cqe *cqes;
  struct iovec *vectors; /* one for each entry */
  uint32_t features;
} Ring;

/* No end to waiting. */
#define FOR_EVER UINT64_MAX

/* 0, or an error number; ring_close is due either way. */
int ring_open(Ring *ring, unsigned entries);
void ring_close(Ring *ring);
/* The next empty place of the submission queue, and that it is filled. */
struct io_uring_sqe *ring_place(Ring *ring);
void ring_push(Ring *ring);
/*
 * Hands over what was pushed, and waits until so many answers are there or the time is over. Returns how many
 * were taken, or minus an error number; -ETIME when the time is over. A time needs IORING_FEAT_EXT_ARG.
 */
long ring_enter(Ring *ring, unsigned pushed, unsigned answers, uint64_t nanoseconds);
/* The next answer, NULL where there is none, and that it was looked at. */
const struct io_uring_cqe *ring_answer(Ring *ring);
void ring_answered(Ring *ring);

#endif
