#include "scratch.h"

#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include "../stamp.h"
#include "own-folder.h"

#define PREFIX ".nerrit-scratch-"
#define GIB 1073741824.0

double scratch_room(const Place *place, double reserve) {
  double kept = reserve >= 0 ? reserve : fmax(0.02 * place->total_bytes, GIB);
  return fmax(0, place->free_bytes - kept);
}

void unique_name(char into[37]) {
  uint64_t parts[2];
  system_chance(parts, sizeof parts);
  snprintf(into, 37, "%08x-%04x-4%03x-%04x-%04x%08x", (unsigned)(parts[0] >> 32),
           (unsigned)(parts[0] >> 16 & 0xffff), (unsigned)(parts[0] & 0xfff),
           (unsigned)((parts[1] >> 48 & 0x3fff) | 0x8000), (unsigned)(parts[1] >> 32 & 0xffff),
           (unsigned)parts[1]);
}

/* Whether a name is one that a run gives: the prefix, and a number of 8-4-4-4-12 digits. */
int is_scratch_name(const char *name) {
  static const char *const shape = "xxxxxxxx-xxxx-xxxx-xxxx-xxxxxxxxxxxx";
  if (strncmp(name, PREFIX, strlen(PREFIX)) != 0) return 0;
  name += strlen(PREFIX);
  if (strlen(name) != strlen(shape)) return 0;
  for (size_t i = 0; shape[i]; i++) {
    if (shape[i] == '-' ? name[i] != '-' : !strchr("0123456789abcdef", name[i])) return 0;
  }
  return 1;
}

void scratch_name(char into[64]) {
  char number[37];
  unique_name(number);
  snprintf(into, 64, PREFIX "%s", number);
}

static void sweep_one(const Entry *entry, void *with) {
  const char *folder = with;
  uint8_t page[PAGE];
  if (!is_scratch_name(entry->name)) return;
  if (entry->kind == A_FOLDER) own_folder_sweep(folder, entry->name);
  else if (entry->kind == A_FILE &&
           (entry->bytes == 0 ||
            (system_peek(folder, entry->name, page, PAGE) == PAGE && is_stamped(page))))
    system_remove(folder, entry->name);
}

void scratch_sweep(const Place *place) {
  system_list(place->path, sweep_one, (void *)place->path);
}

void error_words(Text *into, int error, const Place *place, const char *doing) {
  const char *device = place->device[0] ? place->device : "its drive";
  if (error == ENOSPC)
    text_add(into, "The drive of %s filled up while %s. The scratch file is gone again; free some "
                   "space or use a smaller span.", place->path, doing);
  else if (error == EINVAL)
    text_add(into, "The file system of %s does not take requests past the system's memory. Measure "
                   "with --buffered to go on anyway; the run will be flagged.", place->path);
  else if (error == EROFS)
    text_add(into, "%s is on a file system that may only be read.", place->path);
  else if (error == EACCES || error == EPERM)
    text_add(into, "This user may not create a file in %s.", place->path);
  else
    text_add(into, "The system reported \"%s\" while %s on %s (%s): the drive failed, was unplugged, "
                   "or refused the request.", strerror(error), doing, place->path, device);
}

/* Opens one file, and gives it its blocks where the file system can. */
static int open_one(Scratch *scratch, int buffered, uint64_t bytes) {
  size_t i = scratch->count;
  scratch_name(scratch->names[i]);
  int error = system_scratch(scratch->place->path, scratch->names[i], buffered, &scratch->files[i],
                             &scratch->named[i]);
  if (error) return error;
  scratch->count++;
  error = system_allocate(scratch->files[i], bytes);
  if (error == ENOSPC) return error;
  if (error) scratch->grows = 1;
  return 0;
}

int scratch_open(const Place *place, int buffered, uint64_t bytes, Scratch *scratch, Text *why) {
  memset(scratch, 0, sizeof *scratch);
  scratch->place = place;
  scratch->file_bytes = place->file_bytes > 0 ? (uint64_t)place->file_bytes : UINT64_MAX / 2;
  for (uint64_t left = bytes; left > 0;) {
    uint64_t size = left < scratch->file_bytes ? left : scratch->file_bytes;
    int error = scratch->count == MOST_FILES ? EFBIG : open_one(scratch, buffered, size);
    if (error) {
      scratch_close(scratch);
      error_words(why, error, place, "making the scratch file");
      return -1;
    }
    left -= size;
  }
  return 0;
}

void scratch_close(Scratch *scratch) {
  for (size_t i = 0; i < scratch->count; i++)
    system_close_scratch(scratch->files[i], scratch->place->path, scratch->names[i],
                         scratch->named[i]);
  scratch->count = 0;
}
