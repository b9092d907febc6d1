/* Reads a JSON document (RFC 8259) into a tree. */
#ifndef NERRIT_JSON_H
#define NERRIT_JSON_H

#include <stddef.h>
#include "text.h"

enum { JSON_NULL, JSON_FALSE, JSON_TRUE, JSON_NUMBER, JSON_TEXT, JSON_LIST, JSON_OBJECT };

typedef struct Json {
  int kind;
  double number;
  char *text;       /* of a text, in UTF-8 */
  char *name;       /* of a member of an object */
  struct Json *first, *next;
  size_t from, to;  /* where it stands in the document */
} Json;

/* The tree of a document; NULL, with the place of what makes no sense, where it is none. */
Json *json_read(const char *text, size_t length, size_t *wrong);
void json_free(Json *json);
/* A member of an object by its name; NULL where it has none, or it is null. */
const Json *json_member(const Json *object, const char *name);
/* Whether a member is that text. */
int json_is_text(const Json *object, const char *name, const char *words);
/* How many values a list has; 0 where there is none. */
size_t json_count(const Json *list);
/* Adds a value as it stands in the document, on one line. */
void json_compact(const char *text, const Json *json, Text *into);

#endif
