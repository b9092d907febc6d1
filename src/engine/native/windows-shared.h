/* What windows.c and windows-place.c have in common. */
#ifndef NERRIT_WINDOWS_SHARED_H
#define NERRIT_WINDOWS_SHARED_H

#define _WIN32_WINNT 0x0601
#include <windows.h>
#include "system.h"

/* The number of errno.h that says the same as a system error. */
int error_of(DWORD error);
void to_utf8(char *into, const wchar_t *words, size_t room);
/* A path in UTF-16, freed by the caller; with the prefix that lets it be longer than 260 characters. */
wchar_t *wide(const char *path);
/* The same of a name in a folder. */
wchar_t *joined(const char *folder, const char *name);

#endif
