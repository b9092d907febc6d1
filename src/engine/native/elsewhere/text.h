/* Text that grows as it is written, for JSON and messages. */
#ifndef NERRIT_TEXT_H
#define NERRIT_TEXT_H

#include <stddef.h>

#ifdef __MINGW32__
#define LIKE_PRINTF gnu_printf
#else
#define LIKE_PRINTF printf
#endif

typedef struct {
  char *at; /* ends with a zero byte; NULL while it is empty */
  size_t length, room;
} Text;

/* Adds words as printf makes them. Ends the program where there is no memory left. */
void text_add(Text *text, const char *format, ...) __attribute__((format(LIKE_PRINTF, 2, 3)));
/* Adds words between quotation marks, as JSON wants them; bytes that are no UTF-8 become "?". */
void text_quote(Text *text, const char *words);
/* Adds a number as JSON; "null" for one below zero that is not told. */
void text_told(Text *text, double number);
/* Adds words, or null where there are none. */
void text_quote_told(Text *text, const char *words);
void text_clear(Text *text);
void text_free(Text *text);

/* A size as people write it: "16 MiB". Returns into. */
char *size_words(char *into, size_t room, double bytes);

#endif
