/*
 * Windows: what the measuring body asks of the system, by the Windows API (learn.microsoft.com, "File
 * Buffering", CreateFileW, DeviceIoControl). Paths come in UTF-8 and go out in UTF-16.
 */
#define _WIN32_WINNT 0x0601
#include <windows.h>
#include <errno.h>
#include <fcntl.h>
#include <io.h>
#include <shellapi.h>
#include <stdlib.h>
#include <string.h>
#include <winioctl.h>
#include "system.h"
#include "walk.h"

#define PAGE 4096

/* ---- errors and texts ---- */

/* The number of errno.h that says the same as a system error. */
static int error_of(DWORD error) {
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

static void to_utf8(char *into, const wchar_t *words, size_t room) {
  if (!WideCharToMultiByte(CP_UTF8, 0, words, -1, into, (int)room, NULL, NULL)) into[0] = 0;
}

/* A path in UTF-16, freed by the caller; with the prefix that lets it be longer than 260 characters. */
static wchar_t *wide(const char *path) {
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

static wchar_t *joined(const char *folder, const char *name) {
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
  if (!done && GetLastError() != ERROR_IO_PENDING) return -error_of(GetLastError());
  if (!GetOverlappedResult((HANDLE)file, &place, &moved, TRUE)) return -error_of(GetLastError());
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

int system_each_file(const char *folder, void (*visit)(const char *, const char *, double)) {
  WIN32_FIND_DATAW found;
  wchar_t *pattern = joined(folder, "*");
  HANDLE search = pattern ? FindFirstFileW(pattern, &found) : INVALID_HANDLE_VALUE;
  free(pattern);
  if (search == INVALID_HANDLE_VALUE) return error_of(GetLastError());
  do {
    char name[NAME_BYTES * 4];
    if (found.dwFileAttributes & (FILE_ATTRIBUTE_DIRECTORY | FILE_ATTRIBUTE_REPARSE_POINT)) continue;
    to_utf8(name, found.cFileName, sizeof name);
    visit(folder, name, (double)found.nFileSizeHigh * 4294967296.0 + (double)found.nFileSizeLow);
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

/* ---- where it is measured ---- */

static const char *bus_words(STORAGE_BUS_TYPE bus) {
  switch ((int)bus) {
    case BusTypeUsb: return "USB";
    case BusTypeNvme: return "NVMe";
    case BusTypeSata: return "SATA";
    case BusTypeAta: return "ATA";
    case BusTypeScsi: return "SCSI";
    case BusTypeSas: return "SAS";
    case BusType1394: return "FireWire";
    case BusTypeSd: return "SD";
    case BusTypeMmc: return "MMC";
    case BusTypeRAID: return "RAID";
    case BusTypeiScsi: return "iSCSI";
    default: return "";
  }
}

/* A text of a storage descriptor, without spaces at its ends. */
static void descriptor_text(char *into, const char *from, DWORD offset, DWORD bytes) {
  if (offset == 0 || offset >= bytes) return;
  const char *at = from + offset;
  while (*at == ' ') at++;
  snprintf(into, 128, "%.*s", (int)(bytes - (DWORD)(at - from)), at);
  for (size_t end = strlen(into); end > 0 && into[end - 1] == ' '; end--) into[end - 1] = 0;
}

static void find_drive(Place *place, HANDLE volume) {
  char answer[1024], maker[128] = "", model[128] = "";
  DWORD bytes;
  STORAGE_PROPERTY_QUERY query = {StorageDeviceProperty, PropertyStandardQuery, {0}};
  if (DeviceIoControl(volume, IOCTL_STORAGE_QUERY_PROPERTY, &query, sizeof query, answer,
                      sizeof answer - 1, &bytes, NULL) &&
      bytes >= sizeof(STORAGE_DEVICE_DESCRIPTOR)) {
    STORAGE_DEVICE_DESCRIPTOR *found = (STORAGE_DEVICE_DESCRIPTOR *)answer;
    answer[bytes] = 0;
    descriptor_text(maker, answer, found->VendorIdOffset, bytes);
    descriptor_text(model, answer, found->ProductIdOffset, bytes);
    if (model[0])
      snprintf(place->drive, NAME_BYTES, "%s%s%s", maker, maker[0] ? " " : "", model);
    snprintf(place->link, NAME_BYTES, "%s", bus_words(found->BusType));
  }
  STORAGE_DEVICE_NUMBER number;
  if (DeviceIoControl(volume, IOCTL_STORAGE_GET_DEVICE_NUMBER, NULL, 0, &number, sizeof number, &bytes,
                      NULL)) {
    snprintf(place->device, NAME_BYTES, "PhysicalDrive%lu", number.DeviceNumber);
    snprintf(place->lock, NAME_BYTES, "drive-%lu", number.DeviceNumber);
  }
  DISK_GEOMETRY_EX geometry;
  if (DeviceIoControl(volume, IOCTL_DISK_GET_DRIVE_GEOMETRY_EX, NULL, 0, &geometry, sizeof geometry,
                      &bytes, NULL)) {
    place->device_bytes = (double)geometry.DiskSize.QuadPart;
    place->smallest_block = (int)geometry.Geometry.BytesPerSector;
  }
  STORAGE_PROPERTY_QUERY seek = {StorageDeviceSeekPenaltyProperty, PropertyStandardQuery, {0}};
  DEVICE_SEEK_PENALTY_DESCRIPTOR penalty;
  if (DeviceIoControl(volume, IOCTL_STORAGE_QUERY_PROPERTY, &seek, sizeof seek, &penalty,
                      sizeof penalty, &bytes, NULL))
    place->rotational = penalty.IncursSeekPenalty ? 1 : 0;
}

/* The volume of a path, opened to be asked only: no rights are needed for that. */
static HANDLE volume_of(const Place *place) {
  char name[NAME_BYTES + 8];
  wchar_t words[NAME_BYTES + 8];
  if (place->path[1] != ':') return INVALID_HANDLE_VALUE;
  snprintf(name, sizeof name, "\\\\.\\%c:", place->path[0]);
  MultiByteToWideChar(CP_UTF8, 0, name, -1, words, NAME_BYTES + 8);
  return CreateFileW(words, 0, FILE_SHARE_READ | FILE_SHARE_WRITE, NULL, OPEN_EXISTING, 0, NULL);
}

static int identity_of(const wchar_t *path, uint64_t identity[2]) {
  BY_HANDLE_FILE_INFORMATION found;
  HANDLE folder = CreateFileW(path, 0, FILE_SHARE_READ | FILE_SHARE_WRITE | FILE_SHARE_DELETE, NULL,
                              OPEN_EXISTING, FILE_FLAG_BACKUP_SEMANTICS, NULL);
  if (folder == INVALID_HANDLE_VALUE) return 0;
  int is_there = GetFileInformationByHandle(folder, &found);
  CloseHandle(folder);
  identity[0] = found.dwVolumeSerialNumber;
  identity[1] = (uint64_t)found.nFileIndexHigh << 32 | found.nFileIndexLow;
  return is_there;
}

/*
 * Where a folder really lies, in UTF-8. A volume that is mounted in a folder looks like a link, and lies
 * where it is; a link lies elsewhere.
 */
static int is_elsewhere(const wchar_t *path, Place *place) {
  wchar_t final[PATH_BYTES];
  char real[PATH_BYTES];
  HANDLE folder = CreateFileW(path, 0, FILE_SHARE_READ | FILE_SHARE_WRITE | FILE_SHARE_DELETE, NULL,
                              OPEN_EXISTING, FILE_FLAG_BACKUP_SEMANTICS, NULL);
  if (folder == INVALID_HANDLE_VALUE) return 1;
  DWORD length = GetFinalPathNameByHandleW(folder, final, PATH_BYTES, FILE_NAME_NORMALIZED);
  CloseHandle(folder);
  if (length == 0 || length >= PATH_BYTES) return 1;
  to_utf8(real, wcsncmp(final, L"\\\\?\\", 4) == 0 ? final + 4 : final, sizeof real);
  int differs = _stricmp(real, place->path) != 0;
  if (differs) strcpy(place->path, real);
  return differs;
}

/* The space and the file system of a folder. Whether it may be written shows when a file is made. */
static void space_of(const wchar_t *path, Place *place) {
  wchar_t root[MAX_PATH + 1], type[NAME_BYTES];
  ULARGE_INTEGER free, total;
  DWORD sector, sectors, unused;
  if (GetDiskFreeSpaceExW(path, &free, &total, NULL)) {
    place->free_bytes = (double)free.QuadPart;
    place->total_bytes = (double)total.QuadPart;
  }
  if (!GetVolumePathNameW(path, root, MAX_PATH)) return;
  if (GetDiskFreeSpaceW(root, &sectors, &sector, &unused, &unused))
    place->smallest_block = (int)sector;
  if (!GetVolumeInformationW(root, NULL, 0, NULL, NULL, NULL, type, NAME_BYTES)) return;
  to_utf8(place->file_system, type, NAME_BYTES);
  if (strncmp(place->file_system, "FAT", 3) == 0) place->file_bytes = 4032.0 * 1048576;
}

int system_place(const char *folder, Place *place) {
  wchar_t *path = wide(folder), whole[PATH_BYTES];
  DWORD kind = path ? GetFileAttributesW(path) : INVALID_FILE_ATTRIBUTES;
  int fitness = FIT;
  if (kind == INVALID_FILE_ATTRIBUTES)
    fitness = GetLastError() == ERROR_ACCESS_DENIED ? NO_PERMISSION : NO_SUCH;
  else if (!(kind & FILE_ATTRIBUTE_DIRECTORY)) fitness = NO_FOLDER;
  else if (!GetFullPathNameW(path, PATH_BYTES, whole, NULL)) fitness = NO_SUCH;
  else {
    to_utf8(place->path, wcsncmp(whole, L"\\\\?\\", 4) == 0 ? whole + 4 : whole, PATH_BYTES);
    if ((kind & FILE_ATTRIBUTE_REPARSE_POINT) && is_elsewhere(path, place)) fitness = A_LINK;
    else if (!identity_of(path, place->identity)) fitness = NO_SUCH;
    else space_of(path, place);
  }
  snprintf(place->lock, NAME_BYTES, "volume-%llx", (unsigned long long)place->identity[0]);
  free(path);
  if (fitness != FIT) return fitness;
  HANDLE volume = volume_of(place);
  if (volume != INVALID_HANDLE_VALUE) {
    find_drive(place, volume);
    CloseHandle(volume);
  }
  return FIT;
}

int system_lock(const Place *place) {
  char name[NAME_BYTES + 32];
  wchar_t words[NAME_BYTES + 32];
  snprintf(name, sizeof name, "Global\\nerrit-device-%s", place->lock);
  MultiByteToWideChar(CP_UTF8, 0, name, -1, words, NAME_BYTES + 32);
  /* Never closed: it goes with the process. */
  HANDLE held = CreateMutexW(NULL, TRUE, words);
  return held && GetLastError() == ERROR_ALREADY_EXISTS ? EBUSY : 0;
}

int system_is_there(const Place *place) {
  uint64_t now[2];
  wchar_t *path = wide(place->path);
  int is_there = path && identity_of(path, now) && now[0] == place->identity[0] &&
                 now[1] == place->identity[1];
  free(path);
  return is_there;
}

int system_counted(const Place *place, double *read, double *written) {
  DISK_PERFORMANCE counted;
  DWORD bytes;
  HANDLE volume = volume_of(place);
  if (volume == INVALID_HANDLE_VALUE) return 0;
  int told = DeviceIoControl(volume, IOCTL_DISK_PERFORMANCE, NULL, 0, &counted, sizeof counted, &bytes,
                             NULL);
  CloseHandle(volume);
  if (!told) return 0;
  *read = (double)counted.BytesRead.QuadPart;
  *written = (double)counted.BytesWritten.QuadPart;
  return 1;
}

/* As the documentation declares it; the headers of some compilers lack it. */
typedef struct {
  WORD Index;
  SHORT Temperature, OverThreshold, UnderThreshold;
  BOOLEAN OverThresholdChangable, UnderThresholdChangable, EventGenerated;
  BYTE Reserved0;
  DWORD Reserved1;
} TemperatureInfo;
typedef struct {
  DWORD Version, Size;
  SHORT CriticalTemperature, WarningTemperature;
  WORD InfoCount;
  BYTE Reserved0[2];
  DWORD Reserved1[2];
  TemperatureInfo First;
} TemperatureData;
#define NOT_REPORTED ((SHORT)0x8000)

int system_celsius(const Place *place, double *celsius) {
  char answer[512];
  DWORD bytes;
  STORAGE_PROPERTY_QUERY query = {StorageDeviceTemperatureProperty, PropertyStandardQuery, {0}};
  HANDLE volume = volume_of(place);
  if (volume == INVALID_HANDLE_VALUE) return 0;
  int told = DeviceIoControl(volume, IOCTL_STORAGE_QUERY_PROPERTY, &query, sizeof query, answer,
                             sizeof answer, &bytes, NULL);
  CloseHandle(volume);
  TemperatureData *found = (TemperatureData *)answer;
  if (!told || bytes < sizeof *found || found->InfoCount == 0) return 0;
  if (found->First.Temperature == NOT_REPORTED) return 0;
  *celsius = found->First.Temperature;
  return 1;
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
