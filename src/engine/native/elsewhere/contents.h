/* What is done with the content of a folder's files before and after it is copied. */
#ifndef NERRIT_CONTENTS_H
#define NERRIT_CONTENTS_H

#include "files.h"
#include "text.h"

/* Brings the source into memory, or out of it where the system can be asked to. 0, or why not. */
int contents_ready(int source, const char *folder, const Files *files);
/*
 * Holds every file of a copy against its source. Adds the names of those that differ as JSON texts,
 * separated by commas, a thousand at most. 0, or why they cannot be read.
 */
int contents_compare(const char *source, const char *copy, const Files *files, Text *differing);

#endif
