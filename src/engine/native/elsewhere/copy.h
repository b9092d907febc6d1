/*
 * Copies a folder. Reading and writing go on side by side, with a few blocks between them, so that
 * whichever side the other waits for shows (src/engine/steps/copy.ts). The folder that is copied is only
 * ever read; the copy lands in a folder of the run's own.
 */
#ifndef NERRIT_COPY_H
#define NERRIT_COPY_H

#include "session.h"

/* Does a step that copies. STEP_DONE, STEP_STOPPED or STEP_FAILED (steps.h). */
int copy_step(Session *session, const Step *step, size_t number);

#endif
