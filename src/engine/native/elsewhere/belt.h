/*
 * The belt between the two sides of a copy: blocks that the reader puts on and the writer takes off. Who
 * finds it full, or empty, waits for the other, and how long is counted (src/engine/copy/belt.ts).
 */
#ifndef NERRIT_BELT_H
#define NERRIT_BELT_H

#include <pthread.h>
#include <stdatomic.h>
#include <stddef.h>
#include <stdint.h>

/* Blocks on the belt. */
#define BELT_PLACES 16

enum { READER, WRITER, SIDES };

typedef struct {
  size_t file, bytes;
  int last; /* the file's last block */
  uint8_t *data;
} BeltBlock;

/* What the two sides counted. */
typedef struct {
  double read, written, files;
  double waited_ms[SIDES]; /* that the other side waited for this one */
  /* For the fit of a file's time to its size: files, bytes, bytes squared, milliseconds, both multiplied. */
  double fit[5];
} BeltTotals;

typedef struct {
  pthread_mutex_t held;
  pthread_cond_t changed;
  uint8_t *data;
  size_t block, put, taken;
  BeltBlock blocks[BELT_PLACES];
  _Atomic int is_stopped;
  int has_ended, sides_left;
  int error, failed_side;
  BeltTotals totals;
} Belt;

/* Gets the memory of a belt. 0, or ENOMEM. */
int belt_open(Belt *belt, size_t block);
void belt_close(Belt *belt);
/* The next free place, once there is one; NULL when the copy was stopped. */
uint8_t *belt_free(Belt *belt);
/* Puts the place that belt_free gave on the belt. */
void belt_put(Belt *belt, size_t file, size_t bytes, int last);
/* The next block, once there is one. 0 when the reader has come to its end, or the copy was stopped. */
int belt_take(Belt *belt, BeltBlock *block);
/* Hands the place of belt_take back; file_ms is the file's time with its last block, else below 0. */
void belt_done(Belt *belt, const BeltBlock *block, double file_bytes, double file_ms);
/* No more will be put on. */
void belt_end(Belt *belt);
void belt_stop(Belt *belt);
/* A side failed: the copy comes to its end. */
void belt_fail(Belt *belt, int side, int error);
/* A side has come to its end. */
void belt_leave(Belt *belt);
/* What was counted so far, and how many sides are still at work. */
int belt_look(Belt *belt, BeltTotals *totals);

#endif
