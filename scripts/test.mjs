/**
 * npm test: types, lint, format, unit tests, real devices, the server, a browser; ends with one count. Tests
 * that are tagged as long are left for npm run test:all, which is this with --all.
 */
import { spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import net from "node:net";
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { buildCommand, buildWeb, install, root } from "./prepare.mjs";

const totals = { passed: 0, failed: 0, skipped: 0, left: 0 };
const isAll = process.argv.includes("--all");
if (!isAll) process.env.NERRIT_QUICK = "1";
/** What failed, in words, said once more at the end: a log is often read from there. */
const failures = [];
const bin = (name) => path.join(root, "node_modules", name);
const scratch = mkdtempSync(path.join(os.tmpdir(), "nerrit-test-"));

// What tests make once for all of them.
process.env.NERRIT_SCRATCH = scratch;

/** Runs checks that pass or fail as a whole, side by side; each is heard out in one piece. */
async function checks(...all) {
  await Promise.all(
    all.map(
      ([name, file, ...args]) =>
        new Promise((resolve) => {
          const child = spawn(process.execPath, [bin(file), ...args], { cwd: root });
          let said = "";
          for (const pipe of [child.stdout, child.stderr])
            pipe.on("data", (text) => (said += text));
          child.on("close", (status) => {
            console.log(`\n== ${name}\n${said}`);
            totals[status === 0 ? "passed" : "failed"] += 1;
            if (status !== 0) failures.push(`${name}\n${said.slice(-2000)}`);
            resolve();
          });
        }),
    ),
  );
}

/** Runs one of the suites, and adds its tests to the count. */
async function suite(project) {
  console.log(`\n== tests: ${project}`);
  const report = path.join(scratch, `${project}.json`);
  const child = spawn(
    process.execPath,
    [
      bin("vitest/vitest.mjs"),
      "run",
      "--project",
      project,
      "--reporter=default",
      "--reporter=json",
      `--outputFile.json=${report}`,
      ...(isAll ? [] : ["--tags-filter", "!long"]),
    ],
    { cwd: root, stdio: ["ignore", "inherit", "inherit"] },
  );
  const [status] = await once(child, "close");
  if (!existsSync(report)) {
    totals.failed += 1;
    failures.push(`${project}: the suite ended without a report`);
    return;
  }
  const found = JSON.parse(readFileSync(report, "utf8"));
  totals.passed += found.numPassedTests;
  totals.failed += found.numFailedTests;
  const tests = found.testResults.flatMap((file) => file.assertionResults);
  const left = isAll ? 0 : tests.filter(({ tags }) => tags.includes("long")).length;
  totals.left += left;
  totals.skipped += found.numPendingTests + found.numTodoTests - left;
  for (const { status: outcome, fullName, failureMessages } of tests)
    if (outcome === "failed")
      failures.push(`${project}: ${fullName}\n${failureMessages.join("\n").slice(0, 2000)}`);
  // A suite that could not even be read fails without a failed test.
  if (status !== 0 && found.numFailedTests === 0) {
    totals.failed += 1;
    const unread = found.testResults.filter((file) => file.status === "failed");
    failures.push(
      `${project}: ${unread.map(({ name, message }) => `${name} ${message}`).join("\n")}`,
    );
  }
}

/** What the suites use of the system, each with the Debian package that brings it. */
const TOOLS = [
  {
    is: "a browser for the pages",
    package: "chromium-headless-shell",
    files: [
      "/usr/bin/chromium-headless-shell",
      "/usr/bin/chromium",
      "/usr/bin/google-chrome",
      process.env.CHROMIUM,
    ],
  },
  { is: "a C compiler", package: "gcc", files: ["/usr/bin/cc", "/usr/bin/gcc"] },
  {
    is: "FUSE, for a file system that commits faults",
    package: "libfuse3-dev",
    files: ["/usr/include/fuse3/fuse.h"],
  },
  {
    is: "FUSE's mount command",
    package: "fuse3",
    files: ["/usr/bin/fusermount3", "/bin/fusermount3"],
  },
  { is: "network namespaces", package: "iproute2", files: ["/usr/sbin/ip", "/sbin/ip", "/bin/ip"] },
  { is: "xfs", package: "xfsprogs", files: ["/usr/sbin/mkfs.xfs", "/sbin/mkfs.xfs"] },
  {
    is: "btrfs",
    package: "btrfs-progs",
    files: ["/usr/bin/mkfs.btrfs", "/usr/sbin/mkfs.btrfs", "/sbin/mkfs.btrfs"],
  },
  {
    is: "exFAT's tools",
    package: "exfatprogs",
    files: ["/usr/sbin/mkfs.exfat", "/sbin/mkfs.exfat"],
  },
  {
    is: "exFAT through FUSE",
    package: "exfat-fuse",
    files: ["/usr/sbin/mount.exfat-fuse", "/sbin/mount.exfat-fuse"],
  },
  {
    is: "a compiler of programs for Windows",
    package: "gcc-mingw-w64-x86-64-posix",
    files: ["/usr/bin/x86_64-w64-mingw32-gcc-posix"],
  },
  { is: "Wine, to run them", package: "wine", files: ["/usr/bin/wine"] },
  { is: "the SSH client", package: "openssh-client", files: ["/usr/bin/ssh"] },
  { is: "an SSH server", package: "openssh-server", files: ["/usr/sbin/sshd"] },
  { is: "a small SSH server", package: "dropbear-bin", files: ["/usr/sbin/dropbear"] },
  {
    is: "a small system's shell and programs",
    package: "busybox-static",
    files: ["/usr/bin/busybox", "/bin/busybox"],
  },
  { is: "NTFS through FUSE", package: "ntfs-3g", files: ["/usr/bin/ntfs-3g", "/bin/ntfs-3g"] },
];

/** Installs what is missing where apt is there; without it those tests are skipped, and say so. */
function findTools() {
  const missing = TOOLS.filter(({ files }) => !files.some((file) => file && existsSync(file)));
  if (missing.length === 0) return;
  const names = missing.map(({ is }) => is).join(", ");
  if (!existsSync("/usr/bin/apt-get") || process.getuid?.() !== 0) {
    console.warn(
      `Not found, and cannot be installed here: ${names}. Tests that need it are skipped.`,
    );
    return;
  }
  console.log(`\n== installing ${names}`);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  const options = { stdio: ["ignore", "ignore", "inherit"], env };
  const packages = missing.map((tool) => tool.package);
  spawnSync("apt-get", ["update"], options);
  spawnSync("apt-get", ["install", "-y", "--no-install-recommends", ...packages], options);
}

/** A data folder as a first start and its first page leave it, with the sample studies: made once, copied by each suite. */
async function layOutData() {
  const folder = path.join(scratch, "first-start");
  const probe = net.createServer().listen(0, "127.0.0.1");
  await once(probe, "listening");
  const port = String(probe.address().port);
  probe.close();
  await once(probe, "close");
  const child = spawn(process.execPath, [path.join(root, "scripts/start.mjs"), "--port", port], {
    env: { ...process.env, NERRIT_DATA: folder },
    stdio: ["ignore", "pipe", "inherit"],
  });
  await new Promise((resolve) => {
    child.stdout.on("data", (text) => String(text).includes("Nerrit is at") && resolve());
    child.once("exit", resolve);
  });
  // Its first page keeps the sample studies in brief; nothing is lost where it fails.
  await fetch(`http://127.0.0.1:${port}/`)
    .then((page) => page.text())
    .catch(() => undefined);
  const gone = new Promise((resolve) => child.once("exit", resolve));
  if (child.exitCode === null) {
    child.kill("SIGINT");
    await gone;
  }
  if (existsSync(path.join(folder, "nerrit.sqlite"))) process.env.NERRIT_FIRST_START = folder;
}

install();
findTools();
buildCommand();
await checks(["types of the routes", "next/dist/bin/next", "typegen"]);
/** What computes, one after another. */
async function computed() {
  await checks(
    ["layers", "dependency-cruiser/bin/dependency-cruise.mjs", "src"],
    ["types", "typescript/bin/tsc", "--noEmit"],
    ["lint", "eslint/bin/eslint.js", "--max-warnings", "0", "."],
    ["format", "prettier/bin/prettier.cjs", "--check", "--log-level", "warn", "."],
  );
  await suite("unit");
  buildWeb();
}
// Devices are waited for: beside what computes they take little longer than alone.
await Promise.all([computed(), suite("devices")]);
await layOutData();
await Promise.all([suite("server"), suite("browser")]);
rmSync(scratch, { recursive: true });

for (const failure of failures) console.log(`\n-- failed: ${failure}`);
const skipped = totals.skipped > 0 ? `, ${totals.skipped} skipped` : "";
const left = totals.left > 0 ? `, ${totals.left} left for npm run test:all` : "";
console.log(`\n${totals.passed} passed, ${totals.failed} failed${skipped}${left}`);
process.exit(totals.failed > 0 ? 1 : 0);
