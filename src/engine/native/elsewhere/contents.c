#include "contents.h"

#include <errno.h>
#include <string.h>
#include "session.h"

#define PIECE 1048576
#define MOST_NAMED 1000

/* The next piece of a file. Bytes, 0 at its end, or minus an error number. */
static long long piece_of(File file, void *data, uint64_t at) {
  size_t done = 0;
  while (done < PIECE) {
    long long moved = system_read(file, (char *)data + done, PIECE - done, at + done);
    if (moved < 0) return moved;
    done += (size_t)moved;
    /* Past memory a request begins at a whole sector; only a file's end leaves a part of one. */
    if (moved == 0 || done % 4096 != 0) break;
  }
  return (long long)done;
}

int contents_ready(int source, const char *folder, const Files *files) {
  void *data = source == WARMED ? system_pages(PIECE) : NULL;
  int error = source == WARMED && !data ? ENOMEM : 0;
  for (size_t i = 0; !error && source != AS_IT_IS && i < files->count && !stopping; i++) {
    File file;
    int direct = 0;
    if ((error = system_open_file(folder, files->all[i].name, &direct, &file))) break;
    long long moved = 1;
    if (source == COLD) {
      system_flush(file); /* only what is on the medium can be dropped */
      system_forget(file);
    } else {
      for (uint64_t at = 0; moved > 0 && !stopping; at += (uint64_t)moved)
        moved = piece_of(file, data, at);
    }
    if (moved < 0) error = (int)-moved;
    system_close_file(file);
  }
  if (data) system_free_pages(data);
  return error;
}

/* Whether two files hold the same: 1 or 0, or minus an error number. */
static int are_same(File one, File other, void *a, void *b) {
  for (uint64_t at = 0;; at += PIECE) {
    long long left = piece_of(one, a, at), right = piece_of(other, b, at);
    if (left < 0 || right < 0) return (int)(left < 0 ? left : right);
    if (left != right || memcmp(a, b, (size_t)left) != 0) return 0;
    if (left < PIECE) return 1;
  }
}

int contents_compare(const char *source, const char *copy, const Files *files, Text *differing) {
  void *a = system_pages(PIECE), *b = system_pages(PIECE);
  int error = a && b ? 0 : ENOMEM, named = 0;
  for (size_t i = 0; !error && i < files->count && !stopping; i++) {
    File one = NO_FILE, other = NO_FILE;
    int buffered = 0, direct = 1;
    error = system_open_file(source, files->all[i].name, &buffered, &one);
    if (!error) error = system_open_file(copy, files->all[i].name, &direct, &other);
    if (!error) {
      system_forget(other);
      int same = are_same(one, other, a, b);
      if (same < 0) error = -same;
      else if (!same && named++ < MOST_NAMED) {
        if (differing->length > 0) text_add(differing, ",");
        text_quote(differing, files->all[i].name);
      }
    }
    if (one != NO_FILE) system_close_file(one);
    if (other != NO_FILE) system_close_file(other);
  }
  if (a) system_free_pages(a);
  if (b) system_free_pages(b);
  return error;
}
