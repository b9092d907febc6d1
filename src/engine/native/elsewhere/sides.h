/* The two sides of a copy, each a thread of its own (src/engine/copy/side.ts). */
#ifndef NERRIT_SIDES_H
#define NERRIT_SIDES_H

#include "belt.h"
#include "files.h"
#include "own-folder.h"

typedef struct {
  Belt belt;
  const Files *files;
  const char *source;           /* NULL: files are made up */
  const OwnFolder *destination; /* NULL: what is read goes nowhere */
  int reads_direct, writes_direct;
  uint32_t seed;
  double compressible;
  pthread_t threads[SIDES];
} Sides;

/* Starts both sides; the belt is open already. 0, or EAGAIN: then none runs. */
int sides_start(Sides *sides);
/* Waits for both to come to their end. */
void sides_join(Sides *sides);

#endif
