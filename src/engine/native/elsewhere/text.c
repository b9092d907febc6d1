#include "text.h"

#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>

static void make_room(Text *text, size_t more) {
  if (text->length + more + 1 <= text->room) return;
  size_t room = (text->length + more + 1) * 2;
  char *at = realloc(text->at, room);
  if (!at) {
    fputs("There is no memory left.\n", stderr);
    exit(1);
  }
  text->at = at;
  text->room = room;
}

void text_add(Text *text, const char *format, ...) {
  va_list words;
  va_start(words, format);
  int length = vsnprintf(NULL, 0, format, words);
  va_end(words);
  make_room(text, (size_t)length);
  va_start(words, format);
  vsnprintf(text->at + text->length, (size_t)length + 1, format, words);
  va_end(words);
  text->length += (size_t)length;
}

/* How many bytes the UTF-8 character at a place has; 0 where there is none (RFC 3629, 4). */
static int character(const unsigned char *at) {
  if (at[0] < 0x80) return 1;
  int more = at[0] >= 0xf0 && at[0] < 0xf5 ? 3 : at[0] >= 0xe0 ? 2 : at[0] >= 0xc2 ? 1 : 0;
  if (more == 0 || at[0] >= 0xf5) return 0;
  for (int i = 1; i <= more; i++) {
    if ((at[i] & 0xc0) != 0x80) return 0;
  }
  if (at[0] == 0xe0 && at[1] < 0xa0) return 0;
  if (at[0] == 0xed && at[1] > 0x9f) return 0;
  if (at[0] == 0xf0 && at[1] < 0x90) return 0;
  if (at[0] == 0xf4 && at[1] > 0x8f) return 0;
  return more + 1;
}

void text_quote(Text *text, const char *words) {
  text_add(text, "\"");
  for (const unsigned char *at = (const unsigned char *)words; *at;) {
    int bytes = character(at);
    if (*at == '"' || *at == '\\') text_add(text, "\\%c", *at);
    else if (*at < 0x20 || *at == 0x7f) text_add(text, "\\u%04x", *at);
    else if (bytes == 0) text_add(text, "?");
    else text_add(text, "%.*s", bytes, (const char *)at);
    at += bytes ? bytes : 1;
  }
  text_add(text, "\"");
}

void text_told(Text *text, double number) {
  if (number < 0) text_add(text, "null");
  else text_add(text, "%.15g", number);
}

void text_quote_told(Text *text, const char *words) {
  if (words[0]) text_quote(text, words);
  else text_add(text, "null");
}

void text_clear(Text *text) {
  text->length = 0;
  if (text->at) text->at[0] = 0;
}

void text_free(Text *text) {
  free(text->at);
  *text = (Text){NULL, 0, 0};
}

char *size_words(char *into, size_t room, double bytes) {
  static const char *const units[] = {"B", "KiB", "MiB", "GiB", "TiB", "PiB"};
  int unit = 0;
  for (; bytes >= 1024 && unit < 5; unit++) bytes /= 1024;
  snprintf(into, room, bytes < 10 && bytes != (double)(int)bytes ? "%.1f %s" : "%.0f %s", bytes,
           units[unit]);
  return into;
}
