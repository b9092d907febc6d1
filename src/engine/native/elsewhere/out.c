#include "out.h"

#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/time.h>
#include <time.h>

static FILE *file;
static const char *name;
static int error;

int out_open(const char *path, Text *why) {
  name = path;
  file = system_create(path);
  if (file) return 0;
  if (errno == EEXIST)
    text_add(why, "%s is there already; name another with --out, so that nothing is lost", path);
  else
    text_add(why, "%s could not be made: %s", path, strerror(errno));
  return -1;
}

void out_line(Text *line) {
  if (file && !error) {
    errno = 0;
    if (fwrite(line->at, 1, line->length, file) != line->length || fputc('\n', file) == EOF ||
        fflush(file) != 0)
      error = errno ? errno : EIO;
  }
  text_clear(line);
}

int out_failed(void) { return error != 0; }

int out_close(Text *why) {
  if (!file) return 0;
  if (!error) error = system_flush_file(file);
  if (fclose(file) != 0 && !error) error = errno;
  file = NULL;
  if (!error) return 0;
  text_add(why, "%s could not be written whole: %s", name, strerror(error));
  return -1;
}

const char *time_now(char into[32]) {
  struct timeval now;
  char seconds[24];
  gettimeofday(&now, NULL);
  time_t whole = now.tv_sec;
  strftime(seconds, sizeof seconds, "%Y-%m-%dT%H:%M:%S", gmtime(&whole));
  snprintf(into, 32, "%s.%03dZ", seconds, (int)(now.tv_usec / 1000));
  return into;
}
