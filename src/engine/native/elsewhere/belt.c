#include "belt.h"

#include <errno.h>
#include <string.h>
#include "session.h"

int belt_open(Belt *belt, size_t block) {
  memset(belt, 0, sizeof *belt);
  belt->block = block;
  belt->data = system_pages(BELT_PLACES * block);
  if (!belt->data) return ENOMEM;
  belt->sides_left = SIDES;
  pthread_mutex_init(&belt->held, NULL);
  pthread_cond_init(&belt->changed, NULL);
  return 0;
}

void belt_close(Belt *belt) {
  system_free_pages(belt->data);
  pthread_mutex_destroy(&belt->held);
  pthread_cond_destroy(&belt->changed);
}

/* Waits, and counts the time as waited for a side. */
static void wait_for(Belt *belt, int side) {
  double begun = clock_ms();
  pthread_cond_wait(&belt->changed, &belt->held);
  belt->totals.waited_ms[side] += clock_ms() - begun;
}

uint8_t *belt_free(Belt *belt) {
  pthread_mutex_lock(&belt->held);
  while (belt->put - belt->taken >= BELT_PLACES && !belt->is_stopped) wait_for(belt, WRITER);
  uint8_t *place = belt->is_stopped ? NULL : belt->data + belt->put % BELT_PLACES * belt->block;
  pthread_mutex_unlock(&belt->held);
  return place;
}

void belt_put(Belt *belt, size_t file, size_t bytes, int last) {
  pthread_mutex_lock(&belt->held);
  size_t place = belt->put % BELT_PLACES;
  belt->blocks[place] = (BeltBlock){file, bytes, last, belt->data + place * belt->block};
  belt->put++;
  belt->totals.read += (double)bytes;
  pthread_cond_broadcast(&belt->changed);
  pthread_mutex_unlock(&belt->held);
}

int belt_take(Belt *belt, BeltBlock *block) {
  pthread_mutex_lock(&belt->held);
  while (belt->put == belt->taken && !belt->has_ended && !belt->is_stopped) wait_for(belt, READER);
  int is_there = belt->put > belt->taken && !belt->is_stopped;
  if (is_there) *block = belt->blocks[belt->taken % BELT_PLACES];
  pthread_mutex_unlock(&belt->held);
  return is_there;
}

void belt_done(Belt *belt, const BeltBlock *block, double file_bytes, double file_ms) {
  double terms[] = {1, file_bytes, file_bytes * file_bytes, file_ms, file_bytes * file_ms};
  pthread_mutex_lock(&belt->held);
  belt->taken++;
  belt->totals.written += (double)block->bytes;
  if (block->last) {
    belt->totals.files++;
    for (int i = 0; i < 5; i++) belt->totals.fit[i] += terms[i];
  }
  pthread_cond_broadcast(&belt->changed);
  pthread_mutex_unlock(&belt->held);
}

static void wake_all(Belt *belt) {
  pthread_mutex_lock(&belt->held);
  pthread_cond_broadcast(&belt->changed);
  pthread_mutex_unlock(&belt->held);
}

void belt_end(Belt *belt) {
  pthread_mutex_lock(&belt->held);
  belt->has_ended = 1;
  pthread_mutex_unlock(&belt->held);
  wake_all(belt);
}

void belt_stop(Belt *belt) {
  atomic_store(&belt->is_stopped, 1);
  wake_all(belt);
}

void belt_fail(Belt *belt, int side, int error) {
  pthread_mutex_lock(&belt->held);
  if (!belt->error) {
    belt->error = error ? error : EIO;
    belt->failed_side = side;
  }
  pthread_mutex_unlock(&belt->held);
  belt_stop(belt);
}

void belt_leave(Belt *belt) {
  pthread_mutex_lock(&belt->held);
  belt->sides_left--;
  pthread_mutex_unlock(&belt->held);
}

int belt_look(Belt *belt, BeltTotals *totals) {
  pthread_mutex_lock(&belt->held);
  *totals = belt->totals;
  int left = belt->sides_left;
  pthread_mutex_unlock(&belt->held);
  return left;
}
