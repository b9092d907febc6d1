/* The run file: one line of JSON for everything that happened, written as it happens (docs/formats.md). */
#ifndef NERRIT_OUT_H
#define NERRIT_OUT_H

#include "../system.h"
#include "text.h"

/* Makes the file. 0, or why it cannot be made. */
int out_open(const char *path, Text *why);
/* Writes a line, and empties the text. After an error nothing more is written. */
void out_line(Text *line);
/* Brings the file to the drive and closes it. 0, or why not all of it could be written. */
int out_close(Text *why);
/* Whether some line could not be written. */
int out_failed(void);
/* The time now as RFC 3339 has it, in UTC. */
const char *time_now(char into[32]);

#endif
