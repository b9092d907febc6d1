/*
 * The files that a measurement reads and writes: new ones of its own in the folder that was named, gone
 * when it ends, however it ends. src/engine/target/scratch.ts does the same for Nerrit itself.
 */
#ifndef NERRIT_SCRATCH_H
#define NERRIT_SCRATCH_H

#include <stdint.h>
#include "../system.h"
#include "text.h"

#define MOST_FILES 64

typedef struct {
  const Place *place;
  File files[MOST_FILES];
  char names[MOST_FILES][64];
  int named[MOST_FILES];
  size_t count;
  uint64_t file_bytes; /* of each but the last */
  int grows;           /* the file system gives a file its blocks only as they are written */
} Scratch;

/* What a measurement may take up: what is free, less the reserve. */
double scratch_room(const Place *place, double reserve);
/* Opens files for so many bytes. 0, or why that cannot be. */
int scratch_open(const Place *place, int buffered, uint64_t bytes, Scratch *scratch, Text *why);
void scratch_close(Scratch *scratch);
/*
 * Removes what an earlier run may have left: files of our naming that are empty or bear our stamp, and
 * folders that are empty or have our marker (own-folder.h).
 */
void scratch_sweep(const Place *place);
/* A name for what a run makes, and whether a name is such a one. */
void scratch_name(char into[64]);
int is_scratch_name(const char *name);
/* A number that nobody else has, as 8-4-4-4-12 hexadecimal digits (RFC 9562, 5.4). */
void unique_name(char into[37]);
/* What an error number means, in words. */
void error_words(Text *into, int error, const Place *place, const char *doing);

#endif
