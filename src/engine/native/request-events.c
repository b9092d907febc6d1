#include "request-events.h"

#include <errno.h>
#include <stdlib.h>
#include <string.h>

/* Programs that are told apart. */
enum { MOST_PROGRAMS = 9999 };

int programs_make(Programs *programs) {
  programs->names = calloc(MOST_PROGRAMS, sizeof *programs->names);
  return programs->names ? 0 : ENOMEM;
}

/* Letters of a request (blk_fill_rwbs in kernel/trace/blktrace.c): D discard, W write, R read. */
static int kind_of(const uint8_t *letters, size_t size, uint32_t sectors) {
  size_t length = strnlen((const char *)letters, size);
  if (memchr(letters, 'D', length)) return REQUEST_DISCARD;
  if (sectors == 0) return REQUEST_FLUSH;
  return memchr(letters, 'W', length) ? REQUEST_WRITE : REQUEST_READ;
}

/* F before the letter of the operation: empty the cache first; after it: the write itself is on the medium. */
static int flush_of(const uint8_t *letters, size_t size) {
  size_t length = strnlen((const char *)letters, size);
  const uint8_t *write = memchr(letters, 'W', length);
  if (!write) return 0;
  size_t before = (size_t)(write - letters);
  return (memchr(letters, 'F', before) ? FLUSH_BEFORE : 0) |
         (memchr(write, 'F', length - before) ? FLUSH_AFTER : 0);
}

static uint32_t program_number(Programs *programs, const uint8_t *name, size_t size) {
  char plain[PROGRAM_NAME] = {0};
  memcpy(plain, name, strnlen((const char *)name, size < PROGRAM_NAME ? size : PROGRAM_NAME));
  size_t last = programs->last;
  if (last < programs->count && memcmp(programs->names[last], plain, PROGRAM_NAME) == 0)
    return (uint32_t)last;
  size_t number = 0;
  while (number < programs->count && memcmp(programs->names[number], plain, PROGRAM_NAME) != 0)
    number++;
  /* Beyond what can be told apart all go as the last one. */
  if (number == MOST_PROGRAMS) number = MOST_PROGRAMS - 1;
  if (number == programs->count) memcpy(programs->names[programs->count++], plain, PROGRAM_NAME);
  programs->last = number;
  return (uint32_t)number;
}

static int holds(const EventLayout *layout, size_t length) {
  return layout->sector + 8 <= length && layout->sectors + 4 <= length &&
         layout->letters + layout->letters_size <= length &&
         layout->program + layout->program_size <= length;
}

int event_told(const EventLayout *start, const EventLayout *done, const RingEvent *event,
               Programs *programs, Told *told) {
  uint16_t id;
  if (event->length < sizeof id) return 0;
  memcpy(&id, event->bytes, sizeof id);
  const EventLayout *layout = id == start->id ? start : id == done->id ? done : NULL;
  if (!layout || !holds(layout, event->length)) return 0;
  told->ns = event->ns;
  told->done = layout == done;
  memcpy(&told->sector, event->bytes + layout->sector, sizeof told->sector);
  memcpy(&told->sectors, event->bytes + layout->sectors, sizeof told->sectors);
  const uint8_t *letters = event->bytes + layout->letters;
  told->kind = kind_of(letters, layout->letters_size, told->sectors);
  told->flush = told->kind == REQUEST_WRITE ? flush_of(letters, layout->letters_size) : 0;
  /* The end of a write that the cache was emptied for is told by its place, without a length. */
  if (told->done && told->kind == REQUEST_FLUSH && told->sector != 0 && told->sector != UINT64_MAX &&
      memchr(letters, 'W', strnlen((const char *)letters, layout->letters_size)))
    told->kind = REQUEST_WRITE;
  /* A flush has no place; some kernels give it one that means nothing. */
  if (told->kind == REQUEST_FLUSH) told->sector = told->sectors = 0;
  told->program = told->done ? 0
                             : program_number(programs, event->bytes + layout->program,
                                              layout->program_size);
  return 1;
}
