/* Does the steps of a measurement: src/engine/steps/ does the same for Nerrit itself. */
#ifndef NERRIT_STEPS_H
#define NERRIT_STEPS_H

#include "session.h"

enum { STEP_DONE, STEP_STOPPED, STEP_FAILED };

/* Writes the beginning of the scratch files, so that reads find data. */
int lay_out(Session *session, uint64_t bytes, double compressible);
/* Does a step, and writes its samples and what was counted. After STEP_FAILED, why says what happened. */
int step_do(Session *session, size_t number);

#endif
