/* Windows: folders, and the files of a copy. */
#include "windows-shared.h"

#include <errno.h>
#include <stdlib.h>
#include <string.h>

int system_list(const char *folder, void (*visit)(const Entry *, void *), void *with) {
  WIN32_FIND_DATAW found;
  wchar_t *pattern = joined(folder, "*");
  HANDLE search = pattern ? FindFirstFileW(pattern, &found) : INVALID_HANDLE_VALUE;
  free(pattern);
  if (search == INVALID_HANDLE_VALUE) return error_of(GetLastError());
  do {
    char name[NAME_BYTES * 4];
    to_utf8(name, found.cFileName, sizeof name);
    if (!name[0] || strcmp(name, ".") == 0 || strcmp(name, "..") == 0) continue;
    int kind = found.dwFileAttributes & FILE_ATTRIBUTE_REPARSE_POINT ? SOMETHING_ELSE
               : found.dwFileAttributes & FILE_ATTRIBUTE_DIRECTORY   ? A_FOLDER
                                                                     : A_FILE;
    Entry one = {name, kind,
                 (double)found.nFileSizeHigh * 4294967296.0 + (double)found.nFileSizeLow};
    visit(&one, with);
  } while (FindNextFileW(search, &found));
  FindClose(search);
  return 0;
}

long system_peek(const char *folder, const char *name, void *to, size_t bytes) {
  wchar_t *path = joined(folder, name);
  DWORD there = 0;
  HANDLE handle = path ? CreateFileW(path, GENERIC_READ, FILE_SHARE_READ, NULL, OPEN_EXISTING,
                                     FILE_FLAG_OPEN_REPARSE_POINT, NULL)
                       : INVALID_HANDLE_VALUE;
  free(path);
  if (handle == INVALID_HANDLE_VALUE) return -1;
  BOOL done = ReadFile(handle, to, (DWORD)bytes, &there, NULL);
  CloseHandle(handle);
  return done ? (long)there : -1;
}

void system_remove(const char *folder, const char *name) {
  wchar_t *path = joined(folder, name);
  if (path) DeleteFileW(path);
  free(path);
}

int system_remove_folder(const char *folder, const char *name) {
  wchar_t *path = joined(folder, name);
  int error = path && RemoveDirectoryW(path) ? 0 : error_of(GetLastError());
  free(path);
  return error;
}

/* ---- the files of a copy ---- */

static int open_file(const char *folder, const char *name, DWORD access, DWORD how, DWORD flags,
                     File *file) {
  wchar_t *path = joined(folder, name);
  HANDLE handle = path ? CreateFileW(path, access, FILE_SHARE_READ, NULL, how,
                                     flags | FILE_FLAG_OVERLAPPED | FILE_FLAG_OPEN_REPARSE_POINT, NULL)
                       : INVALID_HANDLE_VALUE;
  DWORD error = GetLastError();
  free(path);
  if (handle == INVALID_HANDLE_VALUE) return error_of(error);
  *file = (File)handle;
  return 0;
}

int system_open_file(const char *folder, const char *name, int *direct, File *file) {
  return open_file(folder, name, GENERIC_READ, OPEN_EXISTING, *direct ? FILE_FLAG_NO_BUFFERING : 0,
                   file);
}

int system_make_file(const char *folder, const char *name, int *direct, File *file) {
  return open_file(folder, name, GENERIC_READ | GENERIC_WRITE, CREATE_NEW,
                   *direct ? FILE_FLAG_NO_BUFFERING | FILE_FLAG_WRITE_THROUGH : 0, file);
}

int system_cut(File file, uint64_t bytes) {
  FILE_END_OF_FILE_INFO end = {.EndOfFile.QuadPart = (LONGLONG)bytes};
  return SetFileInformationByHandle((HANDLE)file, FileEndOfFileInfo, &end, sizeof end)
             ? 0
             : error_of(GetLastError());
}

void system_close_file(File file) { CloseHandle((HANDLE)file); }

int system_finish_file(File file, int direct) {
  int error = direct || FlushFileBuffers((HANDLE)file) ? 0 : error_of(GetLastError());
  CloseHandle((HANDLE)file);
  return error;
}

/* Each file was written through, or flushed as it was closed. */
int system_bring(const char *folder) { return (void)folder, 0; }

int system_make_folder(const char *folder, const char *name) {
  wchar_t *path = joined(folder, name);
  int error = path && CreateDirectoryW(path, NULL) ? 0 : error_of(GetLastError());
  free(path);
  return error;
}

int system_rename_folder(const char *folder, const char *from, const char *to) {
  wchar_t *old_path = joined(folder, from), *new_path = joined(folder, to);
  int error = old_path && new_path && MoveFileExW(old_path, new_path, 0) ? 0
                                                                         : error_of(GetLastError());
  free(old_path);
  free(new_path);
  return error;
}
