/**
 * npm run demo:recordings: makes the sample recordings in demo/recordings anew, of real programs at work on a
 * loop device (docs/sample-recordings.md). Needs the superuser, loop devices, a C compiler and tracefs.
 */
import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { buildCommand, install, root } from "./prepare.mjs";

const OUT = path.join(root, "demo/recordings");
const SQLITE = path.join(root, "node_modules/better-sqlite3");
const MIB = 2 ** 20;

install();
buildCommand();
const run = (command, args, more = {}) =>
  execFileSync(command, args, { encoding: "utf8", stdio: ["ignore", "pipe", "inherit"], ...more });
const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-sample-work-"));
const image = path.join(folder, "image");
const disk = path.join(folder, "disk");
fs.writeFileSync(image, "");
fs.truncateSync(image, 1200 * MIB);
run("mkfs.ext4", ["-q", "-F", "-E", "lazy_itable_init=0,lazy_journal_init=0", image]);
const device = run("losetup", ["--find", "--show", image]).trim();
fs.mkdirSync(disk);
run("mount", [device, disk]);

/** Bytes that do not compress, the same every time. */
function noise(bytes, seed) {
  const made = Buffer.alloc(bytes);
  let state = seed;
  for (let i = 0; i + 4 <= bytes; i += 4) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    made.writeUInt32LE(state, i);
  }
  return made;
}

const WORKS = [
  {
    id: "sample-20261201T100000001",
    name: "Building a database program",
    prepare() {
      const sources = path.join(disk, "source");
      fs.cpSync(path.join(SQLITE, "deps/sqlite3"), sources, { recursive: true });
      for (const name of fs.readdirSync(path.join(root, "src/engine/native")))
        if (/^(?!macos|windows).*[.][ch]$/.test(name))
          fs.copyFileSync(path.join(root, "src/engine/native", name), path.join(sources, name));
    },
    // The compiler's own temporary files lie on the disk, too.
    command: `export TMPDIR="$PWD" && headers="${path.join(root, "node_modules/node-api-headers/include")}" && for source in *.c; do gcc -save-temps=obj -g -O1 -I"$headers" -c "$source"; done && ar rcs all.a *.o && sync -f .`,
    in: "source",
  },
  {
    id: "sample-20261201T100000002",
    name: "A database under load",
    prepare() {
      fs.mkdirSync(path.join(disk, "database"));
      fs.writeFileSync(
        path.join(disk, "database/work.cjs"),
        `const open = require(${JSON.stringify(SQLITE)});
const store = new open("work.sqlite");
store.pragma("journal_mode = wal");
store.pragma("synchronous = full");
store.pragma("cache_size = -2000");
store.exec("create table runs (id integer primary key, place integer, note blob)");
const put = store.prepare("insert into runs (place, note) values (?, ?)");
const find = store.prepare("select length(note) from runs where id = ?");
let state = 7;
const next = (below) => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) % below;
for (let i = 1; i <= 1500; i++) {
  store.transaction(() => { for (let j = 0; j < 8; j++) put.run(next(1e6), Buffer.alloc(200 + next(4000), next(256))); })();
  for (let j = 0; j < 4; j++) find.get(1 + next(8 * i));
}
store.close();
`,
      );
    },
    command: `"${process.execPath}" work.cjs`,
    in: "database",
  },
  {
    id: "sample-20261201T100000003",
    name: "Indexing a picture archive",
    prepare() {
      for (let i = 0; i < 300; i++) {
        const day = path.join(disk, "pictures", String(1 + (i % 12)));
        fs.mkdirSync(day, { recursive: true });
        fs.writeFileSync(path.join(day, `${i}.jpg`), noise(300_000 + ((i * 7919) % 1_700_000), i));
      }
    },
    command: `find . -name '*.jpg' | sort | xargs -n 20 sha256sum > index.txt && sync -f .`,
    in: "pictures",
  },
];

try {
  fs.rmSync(OUT, { recursive: true, force: true });
  fs.mkdirSync(OUT, { recursive: true });
  for (const { id, name, prepare, command, in: within } of WORKS) {
    prepare();
    run("sync", []);
    fs.writeFileSync("/proc/sys/vm/drop_caches", "3");
    const file = path.join(OUT, `${id}.jsonl`);
    const nerrit = path.join(root, "bin/nerrit.mjs");
    const work = ["--", "sh", "-c", command];
    run(process.execPath, [nerrit, "record", device, "--out", file, "--json", ...work], {
      cwd: path.join(disk, within),
      maxBuffer: 100 * MIB,
    });
    const told = JSON.parse(run(process.execPath, [nerrit, "read", file, "--json"]));
    const { size } = fs.statSync(file);
    const known = { of: size, told: { ...told, work: { ...told.work, name } } };
    fs.writeFileSync(path.join(OUT, `${id}.told.json`), JSON.stringify(known));
    console.log(
      `${name}: ${told.requests} requests, ${told.seconds.toFixed(1)} s, busy ${(told.busyShare * 100).toFixed(0)} %, ${size} bytes`,
    );
  }
} finally {
  run("umount", [disk]);
  run("losetup", ["--detach", device]);
  fs.rmSync(folder, { recursive: true });
}
