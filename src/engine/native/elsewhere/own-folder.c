#include "own-folder.h"

#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include "scratch.h"

#define MARKER ".made-by-nerrit"
#define MARKED "Made by a run of Nerrit, and removed when it ends.\n"

int is_made_by_us(const char *name) { return strcmp(name, MARKER) == 0 || is_scratch_name(name); }

/* ---- removing ---- */

typedef struct {
  char **names;
  int *kinds;
  size_t count;
} Content;

static void note(const Entry *entry, void *with) {
  Content *content = with;
  char **names = realloc(content->names, (content->count + 1) * sizeof *names);
  if (names) content->names = names;
  int *kinds = realloc(content->kinds, (content->count + 1) * sizeof *kinds);
  if (kinds) content->kinds = kinds;
  if (!names || !kinds || !(content->names[content->count] = strdup(entry->name))) return;
  content->kinds[content->count++] = entry->kind;
}

/* Removes everything in a folder but its marker. */
static void empty(const char *path) {
  Content content = {NULL, NULL, 0};
  char below[PATH_BYTES];
  system_list(path, note, &content);
  for (size_t i = 0; i < content.count; i++) {
    const char *name = content.names[i];
    if (content.kinds[i] == A_FOLDER &&
        snprintf(below, sizeof below, "%s/%s", path, name) < (int)sizeof below) {
      empty(below);
      system_remove(below, MARKER);
    } else if (strcmp(name, MARKER) != 0) {
      system_remove(path, name);
    }
    /* A link to a folder is a folder to some systems. */
    if (content.kinds[i] != A_FILE) system_remove_folder(path, name);
    free(content.names[i]);
  }
  free(content.names);
  free(content.kinds);
}

/* That it may go stands in it to the last. */
static void remove_all(const char *parent, const char *name) {
  char path[PATH_BYTES + 64];
  snprintf(path, sizeof path, "%s/%s", parent, name);
  empty(path);
  system_remove(path, MARKER);
  system_remove_folder(parent, name);
}

void own_folder_remove(OwnFolder *folder) {
  if (folder->place) remove_all(folder->place->path, folder->name);
  folder->place = NULL;
}

void own_folder_sweep(const char *parent, const char *name) {
  char path[PATH_BYTES + 64], start[8];
  if (system_remove_folder(parent, name) == 0) return;
  snprintf(path, sizeof path, "%s/%s", parent, name);
  if (system_peek(path, MARKER, start, sizeof start) >= 0) remove_all(parent, name);
}

/* ---- making ---- */

int own_folder_make(const Place *place, OwnFolder *folder, Text *why) {
  File marker;
  int buffered = 0;
  scratch_name(folder->name);
  snprintf(folder->path, sizeof folder->path, "%s/%s", place->path, folder->name);
  int error = system_make_folder(place->path, folder->name);
  if (!error) {
    folder->place = place;
    error = system_make_file(folder->path, MARKER, &buffered, &marker);
  }
  if (!error) {
    long long moved = system_write(marker, MARKED, strlen(MARKED), 0);
    system_close_file(marker);
    if (moved < 0) error = (int)-moved;
  }
  if (!error) return 0;
  own_folder_remove(folder);
  error_words(why, error, place, "making a folder for the files");
  return -1;
}

int own_folder_way(const OwnFolder *folder, const char *name) {
  char way[PATH_BYTES];
  if (strlen(name) >= sizeof way) return ENAMETOOLONG;
  strcpy(way, name);
  for (char *end = strchr(way, '/'); end; end = strchr(end + 1, '/')) {
    *end = 0;
    int error = system_make_folder(folder->path, way);
    if (error && error != EEXIST) return error;
    *end = '/';
  }
  return 0;
}

int own_folder_keep(OwnFolder *folder, char kept[PATH_BYTES + 64]) {
  char name[64];
  time_t now = time(NULL);
  strftime(name, sizeof name, "nerrit-copy-%Y-%m-%dT%H-%M-%S", gmtime(&now));
  int error = system_rename_folder(folder->place->path, folder->name, name);
  if (error) return error;
  snprintf(kept, PATH_BYTES + 64, "%s/%s", folder->place->path, name);
  system_remove(kept, MARKER);
  folder->place = NULL;
  return 0;
}
