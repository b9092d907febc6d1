/** Compiles what is written in C: the lanes of the engine, and the program that measures elsewhere. */
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import { zipSync } from "fflate";

const SOURCE = "src/engine/native";
const BODY = ["stamp", "walk"];
const compiler = process.env.CC || "cc";
const inSource = (names) => names.map((name) => path.join(SOURCE, `${name}.c`));
const program = () =>
  readdirSync(path.join(SOURCE, "elsewhere"))
    .filter((name) => name.endsWith(".c"))
    .sort()
    .map((name) => path.join(SOURCE, "elsewhere", name));

const cc = (command, args) => execFileSync(command, args, { stdio: ["ignore", "ignore", "pipe"] });
const whyNot = (error, command) =>
  error.code === "ENOENT" ? `there is no "${command}"` : String(error.stderr ?? error).trim();

/** What the lanes, and what reads requests from the kernel's trace, are compiled of. */
const LANES = [
  "addon",
  "ring",
  "ring-lane",
  ...BODY,
  "linux",
  "replay-addon",
  "replay",
  "replay-course",
  "requests-addon",
  "requests",
  "request-events",
  "calls-addon",
  "opened",
];
const LANES_FLAGS = ["-O3", "-shared", "-fPIC", "-pthread"];
/** The runtime's own headers. */
const headers = (root) =>
  path.dirname(path.join(root, "node_modules/node-api-headers/include/node_api.h"));

/** The lanes as a module of the runtime. */
export function compileLanes(root) {
  try {
    const out = ["-o", "dist/lanes.node"];
    cc(compiler, [...LANES_FLAGS, "-I", headers(root), ...out, ...inSource(LANES)]);
  } catch (error) {
    console.error(
      `The native lanes were not compiled (${whyNot(error, compiler)}).\nMeasuring works without it; small requests cost more processor time (npm run bench shows how much).`,
    );
  }
}

/** What the lanes are compiled of, in one folder: for hosts on which those of this machine do not run. */
export function gatherLaneSource(root) {
  const folder = "dist/lanes-source";
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const own = readdirSync(SOURCE).filter((name) => name.endsWith(".h"));
  const copy = (from, name) => copyFileSync(path.join(from, name), path.join(folder, name));
  for (const name of [...own, ...LANES.map((name) => `${name}.c`)]) copy(SOURCE, name);
  for (const name of readdirSync(headers(root))) copy(headers(root), name);
  writeFileSync(path.join(folder, "flags"), LANES_FLAGS.join(" "));
}

/** Small, and the same bytes wherever and whenever it is built by the same compiler. */
const PROGRAM_FLAGS = ["-Os", "-s", "-pthread", "-ffile-prefix-map=src/engine/native=."];

/** Of the program, what every Linux needs. */
const LINUX = ["ring", "ring-lane", ...BODY, "linux"];

/** For each system what is built, how, and what it is called. */
const PROGRAMS = [
  {
    system: "linux",
    file: "nerrit-measure",
    command: compiler,
    // With its library inside, so that it runs on systems older and smaller than this one.
    args: ["-static", "-Wl,--build-id=none"],
    files: LINUX,
    after: ["-lm"],
  },
  {
    system: "windows",
    file: "nerrit-measure.exe",
    command: "x86_64-w64-mingw32-gcc-posix",
    args: ["-static", "-D__USE_MINGW_ANSI_STDIO=1", "-Wl,--no-insert-timestamp"],
    files: [...BODY, "windows", "windows-place", "windows-files"],
    after: [],
  },
];
/** For macOS the source goes out: it is compiled on the machine itself. */
const MACOS_SOURCE = "nerrit-measure-macos.zip";
/** The first day that a zip file can name: nothing of today is in what is built. */
const NO_DAY = new Date(1980, 0, 1);

function macosSource(version) {
  const names = readdirSync(SOURCE, { recursive: true }).map(String).sort();
  const others = /^(addon|calls-addon|linux|napi|opened|replay|request|requests|ring|windows)[.-]/;
  const entries = names
    .filter((name) => /\.[ch]$/.test(name) && !others.test(name))
    .map((name) => {
      const text = readFileSync(path.join(SOURCE, name), "utf8");
      const stated =
        path.basename(name) === "version.h" ? text.replace('"unknown"', `"${version}"`) : text;
      return [`nerrit-measure/${name}`, new TextEncoder().encode(stated)];
    });
  return zipSync(Object.fromEntries(entries), { mtime: NO_DAY, level: 9 });
}

/** Ends a file in a shell's document. */
const FILE_END = "NERRIT-END-OF-FILE";

/**
 * The program's source as a script for a shell: compiles it into the folder that is its first argument, by the
 * compiler that is its second. For hosts on which what is built here does not run.
 */
export function gatherProgramSource(version) {
  const names = readdirSync(SOURCE).filter((name) => name.endsWith(".h"));
  const own = readdirSync(path.join(SOURCE, "elsewhere")).filter((name) => /\.[ch]$/.test(name));
  const files = [
    ...names,
    ...LINUX.map((name) => `${name}.c`),
    ...own.map((n) => `elsewhere/${n}`),
  ];
  const documents = files
    .sort()
    .map((name) => {
      const text = readFileSync(path.join(SOURCE, name), "utf8").trimEnd();
      return `cat >${name} <<'${FILE_END}'\n${text}\n${FILE_END}\n`;
    })
    .join("");
  const flags = `${PROGRAM_FLAGS.slice(0, 3).join(" ")} -DVERSION='"${version}"'`;
  writeFileSync(
    "dist/programs/compile-there.sh",
    `umask 077; d=$1.$$; trap 'rm -rf "$d"' EXIT
mkdir -p "$d/elsewhere" && cd "$d" || exit 3
${documents}"$2" ${flags} -o nerrit-measure *.c elsewhere/*.c -lm || exit 3
rm -r elsewhere *.c *.h
"$d/nerrit-measure" --version || exit 3
[ -d "$1" ] || mv "$d" "$1"
`,
  );
}

/** What follows the program's runs on hosts: a shell's script, as it is. */
const FOLLOW = "follow.sh";

/** The programs for other machines, each with its size and digest in dist/programs/programs.json. */
export function compilePrograms(version) {
  const folder = "dist/programs";
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const built = [];
  const add = (system, file) => {
    const bytes = readFileSync(path.join(folder, file));
    const sha256 = createHash("sha256").update(bytes).digest("hex");
    built.push({ system, file, bytes: bytes.length, sha256 });
  };
  const missing = [];
  for (const { system, file, command, args, files, after } of PROGRAMS) {
    const stated = `-DVERSION="${version}"`;
    const out = ["-o", path.join(folder, file)];
    const all = [stated, ...out, ...inSource(files), ...program(), ...after];
    try {
      try {
        cc(command, [...PROGRAM_FLAGS, ...args, ...all]);
      } catch (error) {
        // A compiler without the library's archive still links to the library that is there.
        if (system !== "linux") throw error;
        cc(command, [...PROGRAM_FLAGS, ...args.filter((one) => one !== "-static"), ...all]);
      }
      add(system, file);
    } catch (error) {
      const why = whyNot(error, command);
      missing.push({ system, why });
      console.error(`The measuring program for ${system} was not compiled (${why}).`);
    }
  }
  copyFileSync(path.join(SOURCE, "elsewhere", FOLLOW), path.join(folder, FOLLOW));
  writeFileSync(path.join(folder, MACOS_SOURCE), macosSource(version));
  add("macos", MACOS_SOURCE);
  writeFileSync(
    path.join(folder, "programs.json"),
    `${JSON.stringify({ version, built, missing }, null, 2)}\n`,
  );
}
