#include "json.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>

#define DEEPEST 64

typedef struct {
  const char *text;
  size_t at, length;
  int deep;
} Reader;

static Json *value(Reader *reader);

static char look(const Reader *reader) {
  return reader->at < reader->length ? reader->text[reader->at] : 0;
}

static void skip_space(Reader *reader) {
  while (look(reader) && strchr(" \t\r\n", look(reader))) reader->at++;
}

static int take(Reader *reader, char wanted) {
  skip_space(reader);
  if (look(reader) != wanted) return 0;
  reader->at++;
  return 1;
}

static int hex4(Reader *reader, unsigned *code) {
  *code = 0;
  for (int i = 0; i < 4; i++) {
    char c = look(reader);
    const char *digits = "0123456789abcdef", *place = c ? strchr(digits, c | 0x20) : NULL;
    if (!place || (c < '0')) return 0;
    *code = *code * 16 + (unsigned)(place - digits);
    reader->at++;
  }
  return 1;
}

static size_t put_utf8(char *to, unsigned code) {
  if (code < 0x80) return (void)(to[0] = (char)code), 1;
  if (code < 0x800) {
    to[0] = (char)(0xc0 | code >> 6);
    to[1] = (char)(0x80 | (code & 0x3f));
    return 2;
  }
  if (code < 0x10000) {
    to[0] = (char)(0xe0 | code >> 12);
    to[1] = (char)(0x80 | (code >> 6 & 0x3f));
    to[2] = (char)(0x80 | (code & 0x3f));
    return 3;
  }
  to[0] = (char)(0xf0 | code >> 18);
  to[1] = (char)(0x80 | (code >> 12 & 0x3f));
  to[2] = (char)(0x80 | (code >> 6 & 0x3f));
  to[3] = (char)(0x80 | (code & 0x3f));
  return 4;
}

static int escaped(Reader *reader, char *to, size_t *bytes) {
  static const char *const from = "\"\\/bfnrt", *const means = "\"\\/\b\f\n\r\t";
  char c = look(reader);
  reader->at++;
  const char *place = c ? strchr(from, c) : NULL;
  if (place) {
    *to = means[place - from];
    *bytes = 1;
    return 1;
  }
  unsigned code, low;
  if (c != 'u' || !hex4(reader, &code) || code == 0) return 0;
  if (code >= 0xd800 && code < 0xdc00) {
    if (look(reader) != '\\' || reader->text[reader->at + 1] != 'u') return 0;
    reader->at += 2;
    if (!hex4(reader, &low) || low < 0xdc00 || low > 0xdfff) return 0;
    code = 0x10000 + ((code - 0xd800) << 10) + (low - 0xdc00);
  } else if (code >= 0xdc00 && code < 0xe000) {
    return 0;
  }
  *bytes = put_utf8(to, code);
  return 1;
}

/* A text; NULL where it makes no sense. */
static char *quoted(Reader *reader) {
  if (!take(reader, '"')) return NULL;
  size_t room = reader->length - reader->at + 1, length = 0;
  /* No text is longer than what stands before the next quotation mark that is none of an escape. */
  for (size_t i = reader->at; i < reader->length; i++) {
    if (reader->text[i] == '\\') i++;
    else if (reader->text[i] == '"') {
      room = i - reader->at + 1;
      break;
    }
  }
  char *text = malloc(room);
  while (text && look(reader) && look(reader) != '"') {
    char c = look(reader);
    size_t bytes = 1;
    reader->at++;
    if ((unsigned char)c < 0x20) break;
    if (c != '\\') text[length] = c;
    else if (!escaped(reader, text + length, &bytes)) break;
    length += bytes;
  }
  if (!text || look(reader) != '"') {
    free(text);
    return NULL;
  }
  reader->at++;
  text[length] = 0;
  return text;
}

static int members(Reader *reader, Json *json, char end) {
  Json **last = &json->first;
  if (take(reader, end)) return 1;
  do {
    char *name = NULL;
    if (json->kind == JSON_OBJECT && (!(name = quoted(reader)) || !take(reader, ':'))) {
      free(name);
      return 0;
    }
    *last = value(reader);
    if (!*last) {
      free(name);
      return 0;
    }
    (*last)->name = name;
    last = &(*last)->next;
  } while (take(reader, ','));
  return take(reader, end);
}

static int number(Reader *reader, Json *json) {
  const char *from = reader->text + reader->at, *at = from;
  char copy[64];
  if (*at == '-') at++;
  if (*at == '0') at++;
  else if (*at >= '1' && *at <= '9') at += strspn(at, "0123456789");
  else return 0;
  if (*at == '.') {
    size_t digits = strspn(at + 1, "0123456789");
    if (digits == 0) return 0;
    at += 1 + digits;
  }
  if (*at == 'e' || *at == 'E') {
    at++;
    if (*at == '+' || *at == '-') at++;
    size_t digits = strspn(at, "0123456789");
    if (digits == 0) return 0;
    at += digits;
  }
  size_t length = (size_t)(at - from);
  if (length >= sizeof copy) return 0;
  memcpy(copy, from, length);
  copy[length] = 0;
  json->kind = JSON_NUMBER;
  json->number = strtod(copy, NULL);
  reader->at += length;
  return isfinite(json->number);
}

static int word(Reader *reader, const char *wanted) {
  size_t length = strlen(wanted);
  if (reader->length - reader->at < length) return 0;
  if (memcmp(reader->text + reader->at, wanted, length) != 0) return 0;
  reader->at += length;
  return 1;
}

static int fill(Reader *reader, Json *json) {
  switch (look(reader)) {
    case '{':
    case '[':
      json->kind = look(reader) == '{' ? JSON_OBJECT : JSON_LIST;
      reader->at++;
      return members(reader, json, json->kind == JSON_OBJECT ? '}' : ']');
    case '"':
      json->kind = JSON_TEXT;
      return (json->text = quoted(reader)) != NULL;
    case 't':
      json->kind = JSON_TRUE;
      return word(reader, "true");
    case 'f':
      json->kind = JSON_FALSE;
      return word(reader, "false");
    case 'n':
      json->kind = JSON_NULL;
      return word(reader, "null");
    default:
      return number(reader, json);
  }
}

static Json *value(Reader *reader) {
  Json *json = calloc(1, sizeof *json);
  skip_space(reader);
  if (json) json->from = reader->at;
  if (!json || ++reader->deep > DEEPEST || !fill(reader, json)) {
    json_free(json);
    return NULL;
  }
  reader->deep--;
  json->to = reader->at;
  return json;
}

Json *json_read(const char *text, size_t length, size_t *wrong) {
  Reader reader = {text, 0, length, 0};
  /* A mark of the byte order, which some editors put before UTF-8. */
  if (length >= 3 && memcmp(text, "\xef\xbb\xbf", 3) == 0) reader.at = 3;
  Json *json = value(&reader);
  skip_space(&reader);
  *wrong = reader.at;
  if (json && reader.at == length) return json;
  json_free(json);
  return NULL;
}

void json_free(Json *json) {
  while (json) {
    Json *next = json->next;
    json_free(json->first);
    free(json->text);
    free(json->name);
    free(json);
    json = next;
  }
}

const Json *json_member(const Json *object, const char *name) {
  if (!object || object->kind != JSON_OBJECT) return NULL;
  for (const Json *at = object->first; at; at = at->next) {
    if (strcmp(at->name, name) == 0) return at->kind == JSON_NULL ? NULL : at;
  }
  return NULL;
}

int json_is_text(const Json *object, const char *name, const char *words) {
  const Json *found = json_member(object, name);
  return found && found->kind == JSON_TEXT && strcmp(found->text, words) == 0;
}

size_t json_count(const Json *list) {
  size_t count = 0;
  for (const Json *at = list ? list->first : NULL; at; at = at->next) count++;
  return count;
}

void json_compact(const char *text, const Json *json, Text *into) {
  int is_quoted = 0;
  for (size_t i = json->from; i < json->to; i++) {
    char c = text[i];
    if (is_quoted && c == '\\') {
      text_add(into, "%.2s", text + i++);
      continue;
    }
    if (c == '"') is_quoted = !is_quoted;
    if (is_quoted || !strchr(" \t\r\n", c)) text_add(into, "%c", c);
  }
}
