/* The drills that can be ordered by options: what can be set of each, and the steps that it comes to. */
#ifndef NERRIT_DRILLS_H
#define NERRIT_DRILLS_H

#include "text.h"

/* What was set of a drill, as words; NULL: as usual. */
typedef struct {
  const char *name, *value;
} Set;

typedef struct {
  const char *drill, *direction, *repeats;
  const char *from, *to; /* the other end of a copy */
  Set *sets; /* ends with a name of NULL */
} Asked;

/*
 * Adds a drill with its steps as JSON, as the order of a page has it: src/core/drills/kinds/ says the same.
 *
 * room: bytes that may be taken up. smallest_block: of the device; 0 where the system does not tell.
 * Returns 0, or adds to why what makes no sense.
 */
int drill_order(const Asked *asked, double room, int smallest_block, Text *into, Text *why);
/* Whether some drill has a setting of that name ("countFlush"). */
int is_setting(const char *name);
/* Adds the drills with their usual settings, for --help. */
void drills_words(Text *into);

#endif
