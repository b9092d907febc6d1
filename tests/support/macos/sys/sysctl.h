/* sysctlbyname(3) as the manual of macOS has it. */
#ifndef STAND_IN_SYSCTL_H
#define STAND_IN_SYSCTL_H

#include <stddef.h>

int sysctlbyname(const char *name, void *old, size_t *old_bytes, void *new_value, size_t new_bytes);

#endif
