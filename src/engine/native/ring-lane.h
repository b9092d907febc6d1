/* Many requests in flight by the kernel's ring, where a thread for each would cost too much. */
#ifndef NERRIT_RING_LANE_H
#define NERRIT_RING_LANE_H

#include <stddef.h>

/* A lane of a walk (walk.h) that holds as many requests as it is deep. */
void *ring_lane(void *lane);
/* 0 where the kernel lets this process have a ring, else the error number. */
int ring_error(void);
/*
 * Whether a request can be handed over without waiting for it. Where it cannot (EOPNOTSUPP, EAGAIN), the
 * kernel gives each request of a ring to a thread of its own, which costs more than threads that are there
 * already.
 */
int takes_at_once(int fd, size_t bytes);

#endif
