/* The files of a copy: found in a folder, or made up. */
#ifndef NERRIT_FILES_H
#define NERRIT_FILES_H

#include "order.h"

typedef struct {
  char *name; /* the way there below the folder, with "/" between its steps */
  double bytes;
} CopyFile;

typedef struct {
  CopyFile *all;
  size_t count, room;
  size_t passed_over; /* links and special files */
  double bytes;
} Files;

/* Every plain file below a folder, in order of names; what Nerrit made there is none. 0, or why not. */
int files_found(const char *folder, Files *files);
/* The files of a stated mix, in an order that the seed decides, as src/engine/copy/files.ts has it. */
int files_made_up(const Copy *copy, Files *files);
void files_free(Files *files);

#endif
