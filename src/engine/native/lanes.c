/*
 * Requests in flight: the part of the engine that must cost next to nothing.
 *
 * A lane walks over a medium, alone or together with others: it takes the next block, moves it and
 * counts it in memory that the measuring process reads. Lanes come in two kinds. A thread holds one
 * request at a time with pread and pwrite. A ring holds many at once with the kernel's submission and
 * completion queues (io_uring(7), plain system calls), where a thread for each would cost too much.
 * lane.ts does the same by the runtime's own calls where this could not be compiled.
 *
 * Places in the shared memory, and the layout of a stamp, are those of counters.ts and stamp.ts.
 */
#define _GNU_SOURCE
#include <errno.h>
#include <fcntl.h>
#include <linux/io_uring.h>
#include <node_api.h>
#include <pthread.h>
#include <stdatomic.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/syscall.h>
#include <sys/uio.h>
#include <time.h>
#include <unistd.h>

/* counters.ts: places in the control words, and what the lanes are told to do. */
enum { PHASE, CURSOR, READY, ENDED, ERROR, FAULTS };
enum { WAIT, LEAD_IN, COUNTING, STOP };
/* counters.ts: places in a lane's totals. */
enum { READ_BYTES, WRITTEN_BYTES, READ_REQUESTS, WRITE_REQUESTS, MAX_READ_NS, MAX_WRITE_NS, TOTALS };
/* stamp.ts: what a page may be found to be. */
enum { INTACT, LOST, STALE, MISDIRECTED, DAMAGED };

#define PAGE 4096
#define SECTOR 512
#define STACK (128 * 1024)

typedef struct {
  _Atomic int32_t *control;
  double *totals;      /* TOTALS for each lane */
  int32_t *histograms; /* two for each lane: reading, writing */
  size_t buckets;
  double *faults; /* kind, offset, bytes of each */
  size_t most_faults;
  int *fds;
  size_t files;
  uint64_t file_bytes;
  size_t block;
  uint64_t first, blocks;
  int random, once, ring;
  double write_share;
  uint32_t run, generation;
  int generated, checked;
  double compressible;
  size_t pool;  /* bytes of ready data for each request in flight */
  size_t depth; /* requests in flight, of all lanes together */
  size_t lanes;
  uint64_t seed;
  pthread_t *threads;
  struct Lane *each;
} Walk;

/* One request in flight. */
typedef struct {
  uint8_t *data; /* page-aligned memory: the block, or a pool that blocks are taken from */
  uint8_t *at;   /* where in it this request's block lies */
  size_t turn;
  struct iovec vector;
  uint64_t offset; /* on the medium, bytes */
  size_t done;
  int writing;
  uint64_t begun; /* nanoseconds */
} Slot;

typedef struct Lane {
  Walk *walk;
  size_t number, depth;
  uint64_t random;
  Slot *slots;
  uint64_t last;
} Lane;

static uint64_t now_ns(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return (uint64_t)t.tv_sec * 1000000000u + (uint64_t)t.tv_nsec;
}

/* xorshift64*: which block comes next, and whether it is written. */
static uint64_t draw(uint64_t *state) {
  *state ^= *state >> 12;
  *state ^= *state << 25;
  *state ^= *state >> 27;
  return *state * 0x2545f4914f6cdd1dull;
}
static double share(uint64_t *state) { return (double)(draw(state) >> 11) / 9007199254740992.0; }

/* ---- what is written, and what is read back (stamp.ts) ---- */

static uint32_t mixed(uint32_t low, uint32_t high, uint32_t run) {
  uint32_t word = 0x9e3779b9u, parts[3] = {low, high, run};
  for (int i = 0; i < 3; i++) {
    word ^= parts[i];
    word = (word ^ (word >> 16)) * 0x85ebca6bu;
    word = (word ^ (word >> 13)) * 0xc2b2ae35u;
  }
  return word ^ (word >> 16);
}

static void stamp(uint8_t *page, uint64_t offset, uint32_t run, uint32_t generation) {
  uint64_t sector = offset / SECTOR;
  uint32_t words[4] = {(uint32_t)sector,
                       ((uint32_t)(sector >> 32) & 0xffffu) | (generation << 16), run, 0};
  words[3] = mixed(words[0], words[1], run);
  memcpy(page, words, sizeof words);
}

static void generate(uint32_t *words, size_t from, size_t to, uint32_t seed) {
  for (size_t i = from; i < to; i++) {
    uint32_t w = seed + (uint32_t)i * 0x9e3779b9u;
    w = (w ^ (w >> 16)) * 0x85ebca6bu;
    w = (w ^ (w >> 13)) * 0xc2b2ae35u;
    words[i] = w ^ (w >> 16);
  }
}

static size_t page_of(const Walk *walk) { return walk->block < PAGE ? walk->block : PAGE; }

static void prepare_block(Walk *walk, Slot *slot) {
  size_t page = page_of(walk);
  if (!walk->generated && walk->pool > walk->block) {
    /* Another stretch of the pool each time, so that neighbouring blocks are not alike. */
    size_t places = (walk->pool - walk->block) / page + 1;
    slot->turn = (slot->turn + walk->block / page + 1) % places;
    slot->at = slot->data + slot->turn * page;
  }
  for (size_t at = 0; at < walk->block; at += page) {
    uint64_t offset = slot->offset + at;
    stamp(slot->at + at, offset, walk->run, walk->generation);
    if (walk->generated) {
      uint32_t *words = (uint32_t *)(slot->at + at);
      generate(words, 4, page / 4, words[3]);
    }
  }
}

/* What a page that was read back turns out to be. */
static int judge_page(const Walk *walk, const uint8_t *page, uint64_t offset) {
  uint32_t is[4], wanted[PAGE / 4];
  size_t bytes = page_of(walk);
  memcpy(is, page, sizeof is);
  if (is[3] == mixed(is[0], is[1], is[2])) {
    uint64_t sector = is[0] | ((uint64_t)(is[1] & 0xffffu) << 32);
    if (is[2] != walk->run || is[1] >> 16 != walk->generation) return STALE;
    if (sector != offset / SECTOR) return MISDIRECTED;
  }
  stamp((uint8_t *)wanted, offset, walk->run, walk->generation);
  generate(wanted, 4, bytes / 4, wanted[3]);
  if (memcmp(page, wanted, bytes) == 0) return INTACT;
  size_t same = 0;
  for (size_t i = 0; i < bytes; i++) same += page[i] == ((uint8_t *)wanted)[i];
  return same > bytes / 2 ? DAMAGED : LOST;
}

static void check_block(Walk *walk, const Slot *slot) {
  size_t page = page_of(walk), from = 0;
  int kind = INTACT;
  for (size_t at = 0; at <= walk->block; at += page) {
    int next = at < walk->block ? judge_page(walk, slot->at + at, slot->offset + at) : INTACT;
    if (next == kind && at < walk->block) continue;
    if (kind != INTACT) {
      size_t place = (size_t)atomic_fetch_add(&walk->control[FAULTS], 1);
      if (place < walk->most_faults) {
        walk->faults[3 * place] = kind;
        walk->faults[3 * place + 1] = (double)(slot->offset + from);
        walk->faults[3 * place + 2] = (double)(at - from);
      }
    }
    kind = next;
    from = at;
  }
}

/* ---- counting ---- */

static int32_t bits(uint32_t value) {
  if (value < 64) return (int32_t)value;
  int top = 31 - __builtin_clz(value);
  return (top - 5) * 64 + (int32_t)((value >> (top - 6)) & 63);
}

/* histogram.ts: buckets no wider than 1/64 of the time. */
static int32_t bucket_of(uint64_t ns) {
  if (ns < 2147483648ull) return bits((uint32_t)ns);
  uint64_t coarse = ns / 1024;
  return 32 * 64 + bits(coarse < 2147483647ull ? (uint32_t)coarse : 2147483647u);
}

static void count(Lane *lane, const Slot *slot, uint64_t ended, int phase) {
  Walk *walk = lane->walk;
  double *totals = walk->totals + lane->number * TOTALS;
  int way = slot->writing ? 1 : 0;
  totals[READ_BYTES + way] += (double)walk->block;
  totals[READ_REQUESTS + way] += 1;
  if (phase != COUNTING) return;
  uint64_t ns = ended - slot->begun;
  walk->histograms[(2 * lane->number + (size_t)way) * walk->buckets + (size_t)bucket_of(ns)] += 1;
  if ((double)ns > totals[MAX_READ_NS + way]) totals[MAX_READ_NS + way] = (double)ns;
}

static void fail(Walk *walk, int error) {
  int32_t none = 0;
  atomic_compare_exchange_strong(&walk->control[ERROR], &none, error ? error : EIO);
}

/* ---- the walk ---- */

/* Takes the next block. 0 at the end of a walk that is done once. */
static int take(Lane *lane, Slot *slot) {
  Walk *walk = lane->walk;
  uint32_t next = (uint32_t)atomic_fetch_add(&walk->control[CURSOR], 1);
  if (walk->once && next >= walk->blocks) return 0;
  uint64_t block = walk->random ? draw(&lane->random) % walk->blocks
                   : next < walk->blocks ? next
                                         : next % walk->blocks;
  slot->offset = walk->first + block * walk->block;
  slot->done = 0;
  slot->writing =
      walk->write_share >= 1 || (walk->write_share > 0 && share(&lane->random) < walk->write_share);
  if (slot->writing) prepare_block(walk, slot);
  return 1;
}

static int fd_of(const Walk *walk, const Slot *slot, off_t *at) {
  uint64_t offset = slot->offset + slot->done;
  if (walk->files == 1) {
    *at = (off_t)offset;
    return walk->fds[0];
  }
  *at = (off_t)(offset % walk->file_bytes);
  return walk->fds[offset / walk->file_bytes];
}

static void *thread_lane(void *given) {
  Lane *lane = given;
  Walk *walk = lane->walk;
  Slot *slot = lane->slots;
  atomic_fetch_add(&walk->control[READY], 1);
  int phase;
  while ((phase = atomic_load(&walk->control[PHASE])) == WAIT) usleep(200);
  while ((phase = atomic_load(&walk->control[PHASE])) != STOP && take(lane, slot)) {
    /* A write is timed without what is written being made; a read from the end of the one before,
     * which spares a look at the clock and adds the lane's own tenth of a microsecond. */
    slot->begun = slot->writing || walk->checked || lane->last == 0 ? now_ns() : lane->last;
    while (slot->done < walk->block) {
      off_t at;
      int fd = fd_of(walk, slot, &at);
      uint8_t *to = slot->at + slot->done;
      size_t left = walk->block - slot->done;
      ssize_t moved = slot->writing ? pwrite(fd, to, left, at) : pread(fd, to, left, at);
      if (moved < 0 && errno == EINTR) continue;
      if (moved <= 0) {
        fail(walk, moved < 0 ? errno : EIO);
        goto end;
      }
      slot->done += (size_t)moved;
    }
    lane->last = now_ns();
    count(lane, slot, lane->last, phase);
    if (walk->checked) check_block(walk, slot);
  }
end:
  atomic_fetch_add(&walk->control[ENDED], 1);
  return NULL;
}

/* ---- the ring ---- */

typedef struct {
  int fd;
  void *sq, *cq;
  size_t sq_bytes, cq_bytes, sqe_bytes;
  struct io_uring_sqe *sqes;
  _Atomic uint32_t *sq_tail, *cq_head, *cq_tail;
  uint32_t *sq_array, sq_mask, cq_mask;
  struct io_uring_cqe *cqes;
} Ring;

static int open_ring(Ring *ring, unsigned entries) {
  struct io_uring_params p;
  memset(&p, 0, sizeof p);
  memset(ring, 0, sizeof *ring);
  ring->fd = (int)syscall(__NR_io_uring_setup, entries, &p);
  if (ring->fd < 0) return errno;
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
}

/* Puts a slot's request, or what is left of it, into the submission queue. */
static void submit(Walk *walk, Ring *ring, Slot *slot, size_t number) {
  uint32_t tail = atomic_load_explicit(ring->sq_tail, memory_order_relaxed);
  uint32_t place = tail & ring->sq_mask;
  struct io_uring_sqe *sqe = &ring->sqes[place];
  off_t at;
  memset(sqe, 0, sizeof *sqe);
  slot->vector.iov_base = slot->at + slot->done;
  slot->vector.iov_len = walk->block - slot->done;
  sqe->opcode = slot->writing ? IORING_OP_WRITEV : IORING_OP_READV;
  sqe->fd = fd_of(walk, slot, &at);
  sqe->off = (uint64_t)at;
  sqe->addr = (uint64_t)(uintptr_t)&slot->vector;
  sqe->len = 1;
  sqe->user_data = number;
  ring->sq_array[place] = place;
  atomic_store_explicit(ring->sq_tail, tail + 1, memory_order_release);
}

static void *ring_lane(void *given) {
  Lane *lane = given;
  Walk *walk = lane->walk;
  Ring ring;
  int error = open_ring(&ring, (unsigned)lane->depth);
  if (error) fail(walk, error);
  atomic_fetch_add(&walk->control[READY], 1);
  int phase;
  while ((phase = atomic_load(&walk->control[PHASE])) == WAIT) usleep(200);
  size_t flying = 0, waiting = 0;
  for (size_t i = 0; !error && phase != STOP && i < lane->depth && take(lane, &lane->slots[i]); i++) {
    lane->slots[i].begun = now_ns();
    submit(walk, &ring, &lane->slots[i], i);
    waiting++;
  }
  while (flying + waiting > 0) {
    long entered = syscall(__NR_io_uring_enter, ring.fd, waiting, 1, IORING_ENTER_GETEVENTS, NULL, 0);
    if (entered < 0 && errno != EINTR && errno != EAGAIN && errno != EBUSY) {
      fail(walk, errno);
      break;
    }
    if (entered > 0) {
      flying += (size_t)entered;
      waiting -= (size_t)entered;
    }
    phase = atomic_load(&walk->control[PHASE]);
    uint32_t head = atomic_load_explicit(ring.cq_head, memory_order_relaxed);
    uint32_t tail = atomic_load_explicit(ring.cq_tail, memory_order_acquire);
    uint64_t ended = now_ns();
    for (; head != tail; head++) {
      struct io_uring_cqe *cqe = &ring.cqes[head & ring.cq_mask];
      Slot *slot = &lane->slots[cqe->user_data];
      flying--;
      int again = cqe->res == -EINTR || cqe->res == -EAGAIN;
      if (cqe->res <= 0 && !again) {
        fail(walk, cqe->res < 0 ? -cqe->res : EIO);
        error = 1;
        continue;
      }
      if (!again) slot->done += (size_t)cqe->res;
      if (slot->done < walk->block) {
        submit(walk, &ring, slot, cqe->user_data);
        waiting++;
        continue;
      }
      count(lane, slot, ended, phase);
      if (walk->checked) check_block(walk, slot);
      if (error || phase == STOP || !take(lane, slot)) continue;
      slot->begun = slot->writing || walk->checked ? now_ns() : ended;
      submit(walk, &ring, slot, cqe->user_data);
      waiting++;
    }
    atomic_store_explicit(ring.cq_head, head, memory_order_release);
  }
  close_ring(&ring);
  atomic_fetch_add(&walk->control[ENDED], 1);
  return NULL;
}

/* ---- between the runtime and the lanes ---- */

static double number_of(napi_env env, napi_value task, const char *name) {
  napi_value value;
  double number = 0;
  napi_get_named_property(env, task, name, &value);
  napi_get_value_double(env, value, &number);
  return number;
}

static void *memory_of(napi_env env, napi_value task, const char *name, size_t *length) {
  napi_value value;
  void *data = NULL;
  size_t count = 0;
  napi_get_named_property(env, task, name, &value);
  if (napi_get_typedarray_info(env, value, NULL, &count, &data, NULL, NULL) != napi_ok) return NULL;
  if (length) *length = count;
  return data;
}

static void free_walk(Walk *walk) {
  for (size_t i = 0; walk->each && i < walk->lanes; i++) {
    Lane *lane = &walk->each[i];
    for (size_t j = 0; lane->slots && j < lane->depth; j++) free(lane->slots[j].data);
    free(lane->slots);
  }
  free(walk->each);
  free(walk->threads);
  free(walk->fds);
  free(walk);
}

/* Memory for a request, filled as the walk wants it written. */
static int make_slot(Walk *walk, Slot *slot, uint64_t seed) {
  size_t bytes = walk->generated || walk->write_share <= 0 ? walk->block : walk->pool;
  bytes = (bytes + PAGE - 1) / PAGE * PAGE;
  if (posix_memalign((void **)&slot->data, PAGE, bytes) != 0) return 0;
  slot->at = slot->data;
  if (walk->write_share <= 0 || walk->generated) {
    memset(slot->data, 0, bytes);
    return 1;
  }
  size_t page = page_of(walk);
  size_t random = (size_t)((double)page * (1 - walk->compressible) + 0.5) / 8 * 8;
  for (size_t at = 0; at < bytes; at += page) {
    memset(slot->data + at, 0, page);
    for (size_t i = 0; i < random; i += 8) {
      uint64_t word = draw(&seed);
      memcpy(slot->data + at + i, &word, sizeof word);
    }
  }
  return 1;
}

/*
 * startLanes(task): an object to hand to joinLanes. The memory in the task must stay in place until
 * then. Throws where there is not enough memory, or no more threads.
 */
static napi_value start_lanes(napi_env env, napi_callback_info info) {
  size_t argc = 1, words = 0, files = 0;
  napi_value task, handle;
  napi_get_cb_info(env, info, &argc, &task, NULL, NULL);
  Walk *walk = calloc(1, sizeof *walk);
  if (!walk) goto no_memory;
  walk->control = memory_of(env, task, "control", &words);
  walk->totals = memory_of(env, task, "totals", &words);
  walk->histograms = memory_of(env, task, "histograms", &words);
  walk->faults = memory_of(env, task, "faults", &words);
  walk->most_faults = words / 3;
  int32_t *fds = memory_of(env, task, "fds", &files);
  walk->buckets = (size_t)number_of(env, task, "buckets");
  walk->file_bytes = (uint64_t)number_of(env, task, "fileBytes");
  walk->block = (size_t)number_of(env, task, "block");
  walk->first = (uint64_t)number_of(env, task, "first");
  walk->blocks = (uint64_t)number_of(env, task, "blocks");
  walk->random = number_of(env, task, "random") != 0;
  walk->once = number_of(env, task, "once") != 0;
  walk->ring = number_of(env, task, "ring") != 0;
  walk->write_share = number_of(env, task, "writeShare");
  walk->run = (uint32_t)number_of(env, task, "run");
  walk->generation = (uint32_t)number_of(env, task, "generation");
  walk->generated = number_of(env, task, "generated") != 0;
  walk->checked = number_of(env, task, "checked") != 0;
  walk->compressible = number_of(env, task, "compressible");
  walk->pool = (size_t)number_of(env, task, "pool");
  walk->depth = (size_t)number_of(env, task, "depth");
  walk->lanes = (size_t)number_of(env, task, "lanes"); /* of counters.ts */
  walk->seed = (uint64_t)number_of(env, task, "seed");
  if (!walk->control || !walk->totals || !walk->histograms || !walk->faults || !fds || !files ||
      walk->blocks == 0 || walk->lanes == 0 || walk->depth < walk->lanes) {
    free_walk(walk);
    napi_throw_type_error(env, NULL, "startLanes: the task is not complete");
    return NULL;
  }
  walk->files = files;
  walk->fds = malloc(files * sizeof *walk->fds);
  walk->each = calloc(walk->lanes, sizeof *walk->each);
  walk->threads = calloc(walk->lanes, sizeof *walk->threads);
  if (!walk->fds || !walk->each || !walk->threads) goto no_memory;
  memcpy(walk->fds, fds, files * sizeof *walk->fds);
  uint64_t seed = walk->seed * 0x9e3779b97f4a7c15ull + 1;
  for (size_t i = 0; i < walk->lanes; i++) {
    Lane *lane = &walk->each[i];
    lane->walk = walk;
    lane->number = i;
    lane->depth = walk->depth / walk->lanes + (i < walk->depth % walk->lanes ? 1 : 0);
    lane->slots = calloc(lane->depth, sizeof *lane->slots);
    if (!lane->slots) goto no_memory;
    for (size_t j = 0; j < lane->depth; j++) {
      if (!make_slot(walk, &lane->slots[j], draw(&seed) | 1)) goto no_memory;
    }
    lane->random = draw(&seed) | 1;
  }
  pthread_attr_t attributes;
  pthread_attr_init(&attributes);
  pthread_attr_setstacksize(&attributes, STACK);
  for (size_t i = 0; i < walk->lanes; i++) {
    void *(*lane)(void *) = walk->ring ? ring_lane : thread_lane;
    if (pthread_create(&walk->threads[i], &attributes, lane, &walk->each[i]) != 0) {
      atomic_store(&walk->control[PHASE], STOP);
      while (i-- > 0) pthread_join(walk->threads[i], NULL);
      goto no_memory;
    }
  }
  pthread_attr_destroy(&attributes);
  napi_create_external(env, walk, NULL, NULL, &handle);
  return handle;
no_memory:
  if (walk) free_walk(walk);
  napi_throw_error(env, "ENOMEM", "not enough memory, or no more threads, for so many requests in flight");
  return NULL;
}

/* joinLanes(handle): frees what ended lanes held. Only once all have come to their end. */
static napi_value join_lanes(napi_env env, napi_callback_info info) {
  size_t argc = 1;
  napi_value handle;
  Walk *walk;
  napi_get_cb_info(env, info, &argc, &handle, NULL, NULL);
  if (napi_get_value_external(env, handle, (void **)&walk) != napi_ok) return NULL;
  for (size_t i = 0; i < walk->lanes; i++) pthread_join(walk->threads[i], NULL);
  free_walk(walk);
  return NULL;
}

/* ringError(): 0 where the kernel lets this process have a ring, else the error number. */
static napi_value ring_error(napi_env env, napi_callback_info info) {
  (void)info;
  Ring ring;
  napi_value result;
  int error = open_ring(&ring, 2);
  close_ring(&ring);
  napi_create_int32(env, error, &result);
  return result;
}

/*
 * takesAtOnce(fd, bytes): whether a request can be handed over without waiting for it. Where it cannot
 * (EOPNOTSUPP, EAGAIN), the kernel gives each request of a ring to a thread of its own, which costs
 * more than threads that are there already.
 */
static napi_value takes_at_once(napi_env env, napi_callback_info info) {
  size_t argc = 2;
  napi_value given[2], result;
  int32_t fd;
  double bytes;
  int does = 0;
  void *data = NULL;
  napi_get_cb_info(env, info, &argc, given, NULL, NULL);
  napi_get_value_int32(env, given[0], &fd);
  napi_get_value_double(env, given[1], &bytes);
  if (posix_memalign(&data, PAGE, (size_t)bytes) == 0) {
    struct iovec vector = {data, (size_t)bytes};
    for (int i = 0; i < 5 && !does; i++) does = preadv2(fd, &vector, 1, 0, RWF_NOWAIT) > 0;
    free(data);
  }
  napi_get_boolean(env, does, &result);
  return result;
}

/* allocate(fd, bytes): gives a file its blocks without writing them. 0, or the error number. */
static napi_value allocate(napi_env env, napi_callback_info info) {
  size_t argc = 2;
  napi_value given[2], result;
  int32_t fd;
  double bytes;
  napi_get_cb_info(env, info, &argc, given, NULL, NULL);
  napi_get_value_int32(env, given[0], &fd);
  napi_get_value_double(env, given[1], &bytes);
  int error = fallocate(fd, 0, 0, (off_t)bytes) == 0 ? 0 : errno;
  napi_create_int32(env, error, &result);
  return result;
}

/* forget(fd): lets the kernel drop what it holds of a file in memory. 0, or the error number. */
static napi_value forget(napi_env env, napi_callback_info info) {
  size_t argc = 1;
  napi_value given, result;
  int32_t fd;
  napi_get_cb_info(env, info, &argc, &given, NULL, NULL);
  napi_get_value_int32(env, given, &fd);
  napi_create_int32(env, posix_fadvise(fd, 0, 0, POSIX_FADV_DONTNEED), &result);
  return result;
}

/* sync(fd): has everything of a file system brought to its medium. 0, or the error number. */
static napi_value sync_all(napi_env env, napi_callback_info info) {
  size_t argc = 1;
  napi_value given, result;
  int32_t fd;
  napi_get_cb_info(env, info, &argc, &given, NULL, NULL);
  napi_get_value_int32(env, given, &fd);
  napi_create_int32(env, syncfs(fd) == 0 ? 0 : errno, &result);
  return result;
}

NAPI_MODULE_INIT() {
  static const struct {
    const char *name;
    napi_callback call;
  } functions[] = {
      {"startLanes", start_lanes}, {"joinLanes", join_lanes}, {"ringError", ring_error},
      {"takesAtOnce", takes_at_once},
      {"allocate", allocate},      {"forget", forget},         {"sync", sync_all},
  };
  for (size_t i = 0; i < sizeof functions / sizeof functions[0]; i++) {
    napi_value function;
    napi_create_function(env, functions[i].name, NAPI_AUTO_LENGTH, functions[i].call, NULL, &function);
    napi_set_named_property(env, exports, functions[i].name, function);
  }
  return exports;
}
