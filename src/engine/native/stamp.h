/*
 * What is written to a page, and what a page that is read back turns out to be. The layout is that of
 * src/engine/lanes/stamp.ts.
 */
#ifndef NERRIT_STAMP_H
#define NERRIT_STAMP_H

#include <stddef.h>
#include <stdint.h>

#define PAGE 4096
#define SECTOR 512

/* What a page may be found to be. */
enum { INTACT, LOST, STALE, MISDIRECTED, DAMAGED };

/* Writes the 16 bytes that say where a page lies, of which run and of which writing. */
void stamp(uint8_t *page, uint64_t offset, uint32_t run, uint32_t generation);
/* Makes the rest of a stamped page from its stamp. */
void stamp_rest(uint8_t *page, size_t bytes);
/* Holds a page that was read back against what was written. */
int stamp_judge(const uint8_t *page, size_t bytes, uint64_t offset, uint32_t run, uint32_t generation);
/* Whether a page bears a stamp, of whatever run. */
int is_stamped(const uint8_t *page);

#endif
