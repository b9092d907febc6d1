#include "walk.h"

#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include "histogram.h"
#include "stamp.h"

#define STACK (128 * 1024)

/* xorshift64*: which block comes next, and whether it is written. */
static uint64_t draw(uint64_t *state) {
  *state ^= *state >> 12;
  *state ^= *state << 25;
  *state ^= *state >> 27;
  return *state * 0x2545f4914f6cdd1dull;
}
static double share(uint64_t *state) { return (double)(draw(state) >> 11) / 9007199254740992.0; }

/* ---- what is written, and what is read back ---- */

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
    if (walk->generated) stamp_rest(slot->at + at, page);
  }
}

static void check_block(Walk *walk, const Slot *slot) {
  size_t page = page_of(walk), from = 0;
  int kind = INTACT;
  for (size_t at = 0; at <= walk->block; at += page) {
    int next = at < walk->block ? stamp_judge(slot->at + at, page, slot->offset + at, walk->run,
                                              walk->generation)
                                : INTACT;
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

void walk_count(Lane *lane, const Slot *slot, uint64_t ended, int phase) {
  Walk *walk = lane->walk;
  double *totals = walk->totals + lane->number * TOTALS;
  int way = slot->writing ? 1 : 0;
  totals[READ_BYTES + way] += (double)walk->block;
  totals[READ_REQUESTS + way] += 1;
  if (phase == COUNTING) {
    uint64_t ns = ended - slot->begun;
    walk->histograms[(2 * lane->number + (size_t)way) * walk->buckets + (size_t)bucket_of(ns)] += 1;
    if ((double)ns > totals[MAX_READ_NS + way]) totals[MAX_READ_NS + way] = (double)ns;
  }
  if (walk->checked) check_block(walk, slot);
}

void walk_fail(Walk *walk, int error) {
  int32_t none = 0;
  atomic_compare_exchange_strong(&walk->control[ERROR_NUMBER], &none, error ? error : EIO);
}

/* ---- the walk ---- */

int walk_take(Lane *lane, Slot *slot) {
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

File walk_file(const Walk *walk, const Slot *slot, uint64_t *at) {
  uint64_t offset = slot->offset + slot->done;
  if (walk->files == 1) {
    *at = offset;
    return walk->fds[0];
  }
  *at = offset % walk->file_bytes;
  return walk->fds[offset / walk->file_bytes];
}

void *thread_lane(void *given) {
  Lane *lane = given;
  Walk *walk = lane->walk;
  Slot *slot = lane->slots;
  atomic_fetch_add(&walk->control[READY], 1);
  int phase;
  while ((phase = atomic_load(&walk->control[PHASE])) == WAIT) system_sleep(200);
  while ((phase = atomic_load(&walk->control[PHASE])) != STOP && walk_take(lane, slot)) {
    /* A write is timed without what is written being made; a read from the end of the one before,
     * which spares a look at the clock and adds the lane's own tenth of a microsecond. */
    slot->begun = slot->writing || walk->checked || lane->last == 0 ? system_now() : lane->last;
    while (slot->done < walk->block) {
      uint64_t at;
      File file = walk_file(walk, slot, &at);
      uint8_t *to = slot->at + slot->done;
      size_t left = walk->block - slot->done;
      long long moved =
          slot->writing ? system_write(file, to, left, at) : system_read(file, to, left, at);
      if (moved == -EINTR) continue;
      if (moved <= 0) {
        walk_fail(walk, moved < 0 ? (int)-moved : EIO);
        goto end;
      }
      slot->done += (size_t)moved;
    }
    lane->last = system_now();
    walk_count(lane, slot, lane->last, phase);
  }
end:
  atomic_fetch_add(&walk->control[ENDED], 1);
  return NULL;
}

/* ---- beginning and end ---- */

void walk_free(Walk *walk) {
  for (size_t i = 0; walk->each && i < walk->lanes; i++) {
    Lane *lane = &walk->each[i];
    for (size_t j = 0; lane->slots && j < lane->depth; j++) system_free_pages(lane->slots[j].data);
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
  slot->data = system_pages(bytes);
  if (!slot->data) return 0;
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

int walk_start(Walk *walk) {
  walk->each = calloc(walk->lanes, sizeof *walk->each);
  walk->threads = calloc(walk->lanes, sizeof *walk->threads);
  if (!walk->each || !walk->threads) goto no_memory;
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
    if (pthread_create(&walk->threads[i], &attributes, walk->lane, &walk->each[i]) != 0) {
      atomic_store(&walk->control[PHASE], STOP);
      while (i-- > 0) pthread_join(walk->threads[i], NULL);
      pthread_attr_destroy(&attributes);
      goto no_memory;
    }
  }
  pthread_attr_destroy(&attributes);
  return 0;
no_memory:
  walk_free(walk);
  return ENOMEM;
}

void walk_join(Walk *walk) {
  for (size_t i = 0; i < walk->lanes; i++) pthread_join(walk->threads[i], NULL);
  walk_free(walk);
}
