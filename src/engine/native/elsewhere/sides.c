#include "sides.h"

#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include "chance.h"
#include "session.h"

/* Requests past the system's memory move whole sectors; 4 KiB suits every drive. */
#define ALIGN 4096
/* Ready data for files that are made up: each block is another stretch of it. */
#define POOL (16u << 20)

/* ---- reading ---- */

/* Data that does not compress, but for the stated share of each page (src/engine/lanes/stamp.ts). */
static uint32_t *made_pool(const Sides *sides, size_t bytes) {
  uint32_t *words = calloc(bytes / 4, 4), state = sides->seed;
  size_t page = ALIGN / 4, filled = (size_t)floor((double)page * (1 - sides->compressible) + 0.5);
  for (size_t i = 0; words && i < bytes / 4; i++) {
    if (i % page < filled) words[i] = (uint32_t)(chance(&state) * 4294967296.0);
  }
  return words;
}

/* Reads until there is as much as was wanted, or the file's end. Bytes, or minus an error number. */
static long long read_fully(File file, uint8_t *data, size_t room, size_t wanted, uint64_t at) {
  size_t done = 0;
  while (done < wanted) {
    /* Whole blocks, also beyond the end: requests past memory take no others. */
    long long moved = system_read(file, data + done, room - done, at + done);
    if (moved < 0) return moved;
    done += (size_t)moved;
    if (moved == 0 || done % ALIGN != 0) break;
  }
  return (long long)(done < wanted ? done : wanted);
}

/* Puts one file on the belt, block by block. An error number, or 0; then the belt may have stopped. */
static int read_file(Sides *sides, size_t number, const uint8_t *pool, size_t *turn) {
  Belt *belt = &sides->belt;
  const CopyFile *file = &sides->files->all[number];
  int direct = sides->reads_direct, error = 0, last = 0;
  File open = NO_FILE;
  if (sides->source && (error = system_open_file(sides->source, file->name, &direct, &open)))
    return error;
  for (double at = 0; !last && !error;) {
    uint8_t *data = belt_free(belt);
    if (!data) break;
    size_t wanted = (size_t)fmin((double)belt->block, file->bytes - at);
    long long moved = (long long)wanted;
    if (sides->source) {
      moved = wanted > 0 ? read_fully(open, data, belt->block, wanted, (uint64_t)at) : 0;
      if (moved < 0) error = (int)-moved;
    } else {
      *turn = (*turn + wanted + ALIGN) % POOL / 4 * 4;
      memcpy(data, pool + *turn, wanted);
    }
    if (error) break;
    at += (double)moved;
    /* A file that has become shorter ends where it ends. */
    last = at >= file->bytes || (size_t)moved < wanted;
    belt_put(belt, number, (size_t)moved, last);
  }
  if (open != NO_FILE) system_close_file(open);
  return error;
}

static void *read_all(void *given) {
  Sides *sides = given;
  size_t turn = 0;
  int error = 0;
  uint32_t *pool = sides->source ? NULL : made_pool(sides, POOL + sides->belt.block);
  if (!sides->source && !pool) error = ENOMEM;
  for (size_t i = 0; !error && i < sides->files->count && !sides->belt.is_stopped; i++)
    error = read_file(sides, i, (const uint8_t *)pool, &turn);
  free(pool);
  if (error) belt_fail(&sides->belt, READER, error);
  else belt_end(&sides->belt);
  belt_leave(&sides->belt);
  return NULL;
}

/* ---- writing ---- */

/* The file that is being written. */
typedef struct {
  File open;
  int direct;
  double at, begun; /* bytes of it so far; when the one before was finished */
  char folder[PATH_BYTES]; /* the last one whose way was made */
} Written;

static int begin_file(const Sides *sides, const char *name, Written *written) {
  const char *end = strrchr(name, '/');
  size_t length = end ? (size_t)(end - name) : 0;
  if (end && (strncmp(written->folder, name, length) != 0 || written->folder[length] != 0)) {
    int error = own_folder_way(sides->destination, name);
    if (error) return error;
    snprintf(written->folder, sizeof written->folder, "%.*s", (int)length, name);
  }
  written->direct = sides->writes_direct;
  return system_make_file(sides->destination->path, name, &written->direct, &written->open);
}

/* Writes one block; the file's last also closes it. 0, or why not. */
static int write_block(const Sides *sides, const BeltBlock *block, Written *written) {
  int error = 0;
  if (written->open == NO_FILE &&
      (error = begin_file(sides, sides->files->all[block->file].name, written)))
    return error;
  size_t whole = written->direct ? (block->bytes + ALIGN - 1) / ALIGN * ALIGN : block->bytes;
  for (size_t done = 0; done < whole;) {
    long long moved = system_write(written->open, block->data + done, whole - done,
                                   (uint64_t)written->at + done);
    if (moved <= 0) return moved < 0 ? (int)-moved : EIO;
    done += (size_t)moved;
  }
  if (!block->last) return 0;
  if (whole != block->bytes)
    error = system_cut(written->open, (uint64_t)written->at + block->bytes);
  int closed = system_finish_file(written->open, written->direct);
  written->open = NO_FILE;
  return error ? error : closed;
}

static void *write_all(void *given) {
  Sides *sides = given;
  Belt *belt = &sides->belt;
  Written *written = calloc(1, sizeof *written);
  BeltBlock block;
  int error = written ? 0 : ENOMEM;
  if (written) written->open = NO_FILE, written->begun = clock_ms();
  while (!error && belt_take(belt, &block)) {
    if (sides->destination && (error = write_block(sides, &block, written))) break;
    written->at += (double)block.bytes;
    double now = clock_ms();
    belt_done(belt, &block, written->at, now - written->begun);
    if (block.last) written->at = 0, written->begun = now;
  }
  if (written && written->open != NO_FILE) system_close_file(written->open);
  free(written);
  /* What is not on the medium is not copied. */
  if (!error && sides->destination && !belt->is_stopped) error = system_bring(sides->destination->path);
  if (error) belt_fail(belt, WRITER, error);
  belt_leave(belt);
  return NULL;
}

int sides_start(Sides *sides) {
  void *(*const work[SIDES])(void *) = {read_all, write_all};
  for (int side = 0; side < SIDES; side++) {
    if (pthread_create(&sides->threads[side], NULL, work[side], sides) == 0) continue;
    belt_stop(&sides->belt);
    if (side == WRITER) pthread_join(sides->threads[READER], NULL);
    return EAGAIN;
  }
  return 0;
}

void sides_join(Sides *sides) {
  for (int side = 0; side < SIDES; side++) pthread_join(sides->threads[side], NULL);
}
