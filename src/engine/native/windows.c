/*
 * Windows: what the measuring body asks of the system, by the Windows API (learn.microsoft.com, "File
 * Buffering", CreateFileW, DeviceIoControl). Paths come in UTF-8 and go out in UTF-16.
 */
#include "windows-shared.h"

#include <errno.h>
#include <fcntl.h>
#include <io.h>
#include <shellapi.h>
#include <stdlib.h>
#include <string.h>
#include "walk.h"

#define PAGE 4096

/* ---- errors and texts ---- */

int error_of(DWORD error) {
  switch (error) {
    case ERROR_SUCCESS: return 0;
    case ERROR_FILE_NOT_FOUND:
    case ERROR_PATH_NOT_FOUND:
    case ERROR_INVALID_DRIVE: return ENOENT;
    case ERROR_ACCESS_DENIED:
    case ERROR_SHARING_VIOLATION: return EACCES;
    case ERROR_WRITE_PROTECT: return EROFS;
    case ERROR_DISK_FULL:
    case ERROR_HANDLE_DISK_FULL: return ENOSPC;
    case ERROR_FILE_EXISTS:
    case ERROR_ALREADY_EXISTS: return EEXIST;
    case ERROR_INVALID_PARAMETER:
    case ERROR_NOT_SUPPORTED: return EINVAL;
    case ERROR_NOT_ENOUGH_MEMORY:
    case ERROR_OUTOFMEMORY: return ENOMEM;
    case ERROR_FILENAME_EXCED_RANGE: return ENAMETOOLONG;
    case ERROR_FILE_TOO_LARGE: return EFBIG;
    default: return EIO;
  }
}

void to_utf8(char *into, const wchar_t *words, size_t room) {
  if (!WideCharToMultiByte(CP_UTF8, 0, words, -1, into, (int)room, NULL, NULL)) into[0] = 0;
}

wchar_t *wide(const char *path) {
  int length = MultiByteToWideChar(CP_UTF8, 0, path, -1, NULL, 0);
  wchar_t *words = malloc(sizeof(wchar_t) * (size_t)(length + 1)), *whole = NULL;
  if (!words || length == 0) return words;
  MultiByteToWideChar(CP_UTF8, 0, path, -1, words, length);
  if (wcsncmp(words, L"\\\\", 2) == 0) return words;
  DWORD room = GetFullPathNameW(words, 0, NULL, NULL);
  if (room > 0 && (whole = malloc(sizeof(wchar_t) * (room + 5)))) {
    wcscpy(whole, L"\\\\?\\");
    GetFullPathNameW(words, room, whole + 4, NULL);
    /* A share stands behind two backslashes, and behind this prefix differently. */
    if (wcsncmp(whole + 4, L"\\\\", 2) != 0) {
      free(words);
      return whole;
    }
  }
  free(whole);
  return words;
}

wchar_t *joined(const char *folder, const char *name) {
  size_t length = strlen(folder);
  char *path = malloc(length + strlen(name) + 2);
  if (!path) return NULL;
  const char *between = length > 0 && strchr("\\/", folder[length - 1]) ? "" : "\\";
  sprintf(path, "%s%s%s", folder, between, name);
  wchar_t *words = wide(path);
  free(path);
  return words;
}

void system_begin(int *argc, char ***argv) {
  int count;
  wchar_t **words = CommandLineToArgvW(GetCommandLineW(), &count);
  char **texts = words ? calloc((size_t)count + 1, sizeof *texts) : NULL;
  SetConsoleOutputCP(CP_UTF8);
  if (!texts) return;
  for (int i = 0; i < count; i++) {
    int room = WideCharToMultiByte(CP_UTF8, 0, words[i], -1, NULL, 0, NULL, NULL);
    texts[i] = calloc((size_t)room + 1, 1);
    if (!texts[i]) return;
    to_utf8(texts[i], words[i], (size_t)room);
  }
  *argc = count;
  *argv = texts;
}

/* ---- requests ---- */

/*
 * Handles are opened for overlapped requests: of a handle that is not, the system does one request after
 * another, however many threads ask. Each thread waits for its own request by an event of its own.
 */
static long long move(File file, void *data, size_t bytes, uint64_t at, int writing) {
  static __thread HANDLE event;
  OVERLAPPED place;
  DWORD moved = 0;
  if (!event) event = CreateEventW(NULL, TRUE, FALSE, NULL);
  memset(&place, 0, sizeof place);
  place.Offset = (DWORD)at;
  place.OffsetHigh = (DWORD)(at >> 32);
  place.hEvent = event;
  BOOL done = writing ? WriteFile((HANDLE)file, data, (DWORD)bytes, NULL, &place)
                      : ReadFile((HANDLE)file, data, (DWORD)bytes, NULL, &place);
  DWORD error = done ? ERROR_SUCCESS : GetLastError();
  if (error == ERROR_IO_PENDING || done)
    error = GetOverlappedResult((HANDLE)file, &place, &moved, TRUE) ? ERROR_SUCCESS : GetLastError();
  if (error == ERROR_HANDLE_EOF) return 0;
  if (error) return -error_of(error);
  return (long long)moved;
}

long long system_read(File file, void *to, size_t bytes, uint64_t at) {
  return move(file, to, bytes, at, 0);
}
long long system_write(File file, const void *from, size_t bytes, uint64_t at) {
  return move(file, (void *)from, bytes, at, 1);
}

size_t system_lanes(size_t depth, size_t block, File file, void *(**lane)(void *)) {
  (void)block;
  (void)file;
  *lane = thread_lane;
  return depth;
}

uint64_t system_now(void) {
  static LARGE_INTEGER frequency;
  LARGE_INTEGER ticks;
  if (frequency.QuadPart == 0) QueryPerformanceFrequency(&frequency);
  QueryPerformanceCounter(&ticks);
  uint64_t whole = (uint64_t)(ticks.QuadPart / frequency.QuadPart);
  uint64_t rest = (uint64_t)(ticks.QuadPart % frequency.QuadPart);
  return whole * 1000000000u + rest * 1000000000u / (uint64_t)frequency.QuadPart;
}

void system_sleep(unsigned microseconds) { Sleep((microseconds + 999) / 1000); }

void *system_pages(size_t bytes) { return _aligned_malloc(bytes, PAGE); }
void system_free_pages(void *pages) { _aligned_free(pages); }

/* ---- files ---- */

int system_allocate(File file, uint64_t bytes) {
  FILE_ALLOCATION_INFO size = {.AllocationSize = {.QuadPart = (LONGLONG)bytes}};
  FILE_END_OF_FILE_INFO end = {.EndOfFile = {.QuadPart = (LONGLONG)bytes}};
  if (!SetFileInformationByHandle((HANDLE)file, FileAllocationInfo, &size, sizeof size) ||
      !SetFileInformationByHandle((HANDLE)file, FileEndOfFileInfo, &end, sizeof end))
    return error_of(GetLastError());
  return 0;
}

/* Requests do not go through the system's memory, so there is nothing to drop. */
int system_forget(File file) { return (void)file, 0; }
const int system_forgets = 1;

int system_scratch(const char *folder, const char *name, int buffered, File *file, int *named) {
  wchar_t *path = joined(folder, name);
  /* It goes with its handle, however this process ends. */
  DWORD flags = FILE_FLAG_OVERLAPPED | FILE_FLAG_DELETE_ON_CLOSE |
                (buffered ? 0 : FILE_FLAG_NO_BUFFERING | FILE_FLAG_WRITE_THROUGH);
  HANDLE handle = path ? CreateFileW(path, GENERIC_READ | GENERIC_WRITE | DELETE, FILE_SHARE_DELETE,
                                     NULL, CREATE_NEW, flags, NULL)
                       : INVALID_HANDLE_VALUE;
  DWORD error = GetLastError();
  free(path);
  if (handle == INVALID_HANDLE_VALUE) return error_of(error);
  *file = (File)handle;
  *named = 0;
  return 0;
}

void system_close_scratch(File file, const char *folder, const char *name, int named) {
  (void)named;
  CloseHandle((HANDLE)file);
  system_remove(folder, name);
}

int system_flush(File file) {
  return FlushFileBuffers((HANDLE)file) ? 0 : error_of(GetLastError());
}

static FILE *opened(const char *path, DWORD access, DWORD how, int flags, const char *mode) {
  wchar_t *words = wide(path);
  HANDLE handle = words ? CreateFileW(words, access, FILE_SHARE_READ, NULL, how, 0, NULL)
                        : INVALID_HANDLE_VALUE;
  free(words);
  if (handle == INVALID_HANDLE_VALUE) {
    errno = error_of(GetLastError());
    return NULL;
  }
  return _fdopen(_open_osfhandle((intptr_t)handle, flags), mode);
}
FILE *system_create(const char *path) {
  return opened(path, GENERIC_WRITE, CREATE_NEW, _O_BINARY, "wb");
}
FILE *system_open(const char *path) {
  return opened(path, GENERIC_READ, OPEN_EXISTING, _O_BINARY | _O_RDONLY, "rb");
}
int system_flush_file(FILE *file) {
  return fflush(file) != 0 || _commit(_fileno(file)) != 0 ? errno : 0;
}

/* ---- the machine and the process ---- */

void system_machine(Machine *machine) {
  wchar_t name[NAME_BYTES];
  DWORD length = NAME_BYTES;
  if (GetComputerNameW(name, &length)) to_utf8(machine->host, name, NAME_BYTES);
  /* GetVersionExW tells what the program was built for; this one tells what runs. */
  typedef LONG(WINAPI * Tell)(OSVERSIONINFOW *);
  Tell tell = (Tell)(void (*)(void))GetProcAddress(GetModuleHandleW(L"ntdll.dll"), "RtlGetVersion");
  OSVERSIONINFOW version = {.dwOSVersionInfoSize = sizeof version};
  if (tell && tell(&version) == 0)
    snprintf(machine->system, NAME_BYTES, "Windows %lu.%lu.%lu", version.dwMajorVersion,
             version.dwMinorVersion, version.dwBuildNumber);
  else
    snprintf(machine->system, NAME_BYTES, "Windows");
  DWORD bytes = sizeof name;
  if (RegGetValueW(HKEY_LOCAL_MACHINE, L"HARDWARE\\DESCRIPTION\\System\\CentralProcessor\\0",
                   L"ProcessorNameString", RRF_RT_REG_SZ, NULL, name, &bytes) == ERROR_SUCCESS)
    to_utf8(machine->processor, name, NAME_BYTES);
  SYSTEM_INFO info;
  GetSystemInfo(&info);
  machine->cores = (int)info.dwNumberOfProcessors;
  MEMORYSTATUSEX memory = {.dwLength = sizeof memory};
  if (GlobalMemoryStatusEx(&memory)) machine->memory_bytes = (double)memory.ullTotalPhys;
}

/* RtlGenRandom, by the name under which the system has it (ntsecapi.h). */
BOOLEAN NTAPI SystemFunction036(PVOID to, ULONG bytes);
void system_chance(void *to, size_t bytes) { SystemFunction036(to, (ULONG)bytes); }

double system_processor_us(void) {
  FILETIME begun, ended, kernel, user;
  GetProcessTimes(GetCurrentProcess(), &begun, &ended, &kernel, &user);
  double hundred_ns = ((double)kernel.dwHighDateTime + (double)user.dwHighDateTime) * 4294967296.0 +
                      (double)kernel.dwLowDateTime + (double)user.dwLowDateTime;
  return hundred_ns / 10;
}

static void (*on_stop)(void);
static BOOL WINAPI stopped(DWORD kind) {
  on_stop();
  /* When a window is closed the system ends this process after a while; until then runs are ended. */
  if (kind != CTRL_C_EVENT && kind != CTRL_BREAK_EVENT) Sleep(4000);
  return TRUE;
}
void system_on_stop(void (*stop)(void)) {
  on_stop = stop;
  /* A process that was begun with Ctrl-C ignored hears of it again. */
  SetConsoleCtrlHandler(NULL, FALSE);
  SetConsoleCtrlHandler(stopped, TRUE);
}

int system_is_terminal(FILE *file) { return _isatty(_fileno(file)); }
