/*
 * A page of the kernel's trace buffer as trace_pipe_raw gives it (events/header_page, events/header_event;
 * include/linux/ring_buffer.h): a time stamp and a length, then events, each with its type and how long
 * after the one before it came.
 */
#ifndef NERRIT_RING_PAGE_H
#define NERRIT_RING_PAGE_H

#include <stddef.h>
#include <stdint.h>
#include <string.h>

typedef struct {
  const uint8_t *page;
  size_t at, end;
  uint64_t ns;
} RingPage;

typedef struct {
  uint64_t ns;
  const uint8_t *bytes;
  size_t length;
} RingEvent;

enum { RING_HEADER = 16, RING_PADDING = 29, RING_TIME_EXTEND = 30, RING_TIME_STAMP = 31 };
/* The rest of a page's length says something else: that events were lost before it, and how many. */
enum { RING_LENGTH = 0xfffff };

static inline uint32_t ring_word(const uint8_t *at) {
  uint32_t word;
  memcpy(&word, at, sizeof word);
  return word;
}

static inline RingPage ring_page(const uint8_t *page, size_t size) {
  RingPage opened = {page, RING_HEADER, 0, 0};
  if (size < RING_HEADER) return opened;
  size_t end = RING_HEADER + (ring_word(page + 8) & RING_LENGTH);
  memcpy(&opened.ns, page, sizeof opened.ns);
  opened.end = end < size ? end : size;
  return opened;
}

/* The next event of a page; 0 where there is none any more. */
static inline int ring_next(RingPage *page, RingEvent *event) {
  while (page->at + 4 <= page->end) {
    uint32_t header = ring_word(page->page + page->at), type = header & 31, delta = header >> 5;
    int has_word = type == 0 || type >= RING_PADDING;
    if (has_word && page->at + 8 > page->end) break;
    uint32_t word = has_word ? ring_word(page->page + page->at + 4) : 0;
    if (type == RING_PADDING) {
      /* One that was taken back has its length behind it; without a time the rest of the page is empty. */
      if (delta == 0) break;
      page->ns += delta;
      page->at += 4 + (size_t)word;
    } else if (type == RING_TIME_EXTEND || type == RING_TIME_STAMP) {
      uint64_t time = ((uint64_t)word << 27) + delta;
      /* A time stamp has 59 bits; the five above them are those of the time before. */
      page->ns = type == RING_TIME_EXTEND ? page->ns + time : (page->ns >> 59 << 59) + time;
      page->at += 8;
    } else {
      size_t from = page->at + (type == 0 ? 8 : 4);
      size_t length = type == 0 ? (size_t)word - 4 : (size_t)type * 4;
      if ((type == 0 && word < 4) || from + length > page->end) break;
      page->ns += delta;
      page->at = from + length;
      *event = (RingEvent){page->ns, page->page + from, length};
      return 1;
    }
  }
  page->at = page->end;
  return 0;
}

#endif
