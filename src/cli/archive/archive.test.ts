import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openDemo } from "@/services/testing/demo-store";
import { nerrit } from "../../../tests/support/command";

const dist = path.resolve(import.meta.dirname, "../../../dist");

describe.skipIf(!fs.existsSync(path.join(dist, "archive.mjs")))(
  "nerrit archive and nerrit ask",
  () => {
    const root = fs.mkdtempSync(path.join(os.tmpdir(), "cli-archive-"));
    const archive = path.join(root, "archive");
    const env = { NERRIT_DATA: path.join(root, "data") };
    const write = (to: string, started?: (pid: number) => void) =>
      nerrit(["archive", "--to", to, "--with-samples", "--json"], started, env);
    const ask = (...args: string[]) =>
      nerrit(["ask", ...args, "--archive", archive], undefined, env);
    let runs = 0;

    beforeAll(() => {
      fs.mkdirSync(env.NERRIT_DATA);
      openDemo(env.NERRIT_DATA).$client.close();
    });
    afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

    it("write everything once, also after they were killed wherever they were", async () => {
      // Somewhere between its first row and its last move, on a machine that does little else.
      for (const ms of [1500, 3000, 4000]) {
        let timer: NodeJS.Timeout | undefined;
        await write(archive, (pid) => {
          timer = setTimeout(() => spawnSync("pkill", ["-KILL", "-P", String(pid)]), ms);
        });
        clearTimeout(timer);
      }
      const { status, stdout, stderr } = await write(archive);
      expect([status, stderr]).toEqual([0, ""]);
      const told = JSON.parse(stdout) as { archive: { runs: number; samples: number } };
      ({ runs } = told.archive);
      expect(runs).toBeGreaterThan(100);
      const { stdout: counts } = await ask(
        "--sql",
        sqlFile(
          `SELECT COUNT(*) AS n, COUNT(DISTINCT run_id || ' ' || CAST(sample AS VARCHAR)) AS d FROM samples`,
        ),
        "--json",
      );
      expect((JSON.parse(counts) as { rows: number[][] }).rows).toEqual([
        [told.archive.samples, told.archive.samples],
      ]);
      expect(fs.readdirSync(path.join(archive, ".writing"))).toEqual([]);
    });

    it("say that nothing was missing the second time", async () => {
      const { stdout } = await write(archive);
      expect(JSON.parse(stdout)).toMatchObject({ added: 0, archive: { runs } });
    });

    it("answer a ready question as a table, as CSV and as JSON", async () => {
      const [text, csv, json] = [
        await ask("measured-by-month", "--simulated"),
        await ask("measured-by-month", "--simulated", "--csv"),
        await ask("measured-by-month", "--simulated", "--json"),
      ];
      expect(text.stdout).toMatch(/Host +Year +Month +Runs/);
      expect(csv.stdout).toMatch(/^host,year,month,runs,rigs,moved_gb\r\n/);
      expect(JSON.parse(json.stdout)).toMatchObject({ isCut: false });
      expect((await ask("measured-by-month", "--host", "nowhere")).stdout).toMatch(/Nothing/);
    });

    it("say what is wrong, and what to do", async () => {
      const wrong: [Promise<{ status: number | null; stderr: string }>, number, RegExp][] = [
        [ask("no-such"), 2, /claims-delivered/],
        [ask("claims-delivered", "--since", "yesterday"), 2, /--since/],
        [ask("claims-delivered", "--seconds", "-1"), 2, /--seconds/],
        [ask("--sql", sqlFile("SET threads = 1")), 1, /only read/],
        [nerrit(["ask", "claims-delivered"], undefined, env), 2, /--archive/],
        [
          nerrit(["ask", "claims-delivered", "--archive", root], undefined, env),
          1,
          /is no archive/,
        ],
        [nerrit(["archive", "--to", archive, "--declare", "abacus"], undefined, env), 2, /spark/],
        [nerrit(["archive", "--to", archive], undefined, { NERRIT_DATA: root }), 1, /no database/],
      ];
      for (const [asked, status, words] of wrong) {
        const told = await asked;
        expect([told.status, told.stderr]).toEqual([status, expect.stringMatching(words)]);
      }
    });

    it("declare every table to other engines", async () => {
      for (const engine of ["spark", "trino"]) {
        const { stdout } = await nerrit(["archive", "--to", "/mnt/it's", "--declare", engine]);
        expect(stdout.match(/^CREATE TABLE /gm)).toHaveLength(15);
        expect(stdout).toMatch(/'\/mnt\/it''s\/runs'/);
      }
    });

    it("leave an archive as it was where its disk is full", async ({ skip }) => {
      const small = path.join(root, "small");
      fs.mkdirSync(small);
      const { status } = spawnSync("mount", ["-t", "tmpfs", "-o", "size=300k", "tmpfs", small]);
      if (status !== 0) return skip("needs to mount a small file system");
      try {
        const told = await write(path.join(small, "archive"));
        expect(told).toMatchObject({
          status: 1,
          stderr: expect.stringMatching(/the disk is full/),
        });
        const left = fs.readdirSync(small, { recursive: true }).map(String);
        expect(left.filter((name) => name.endsWith(".parquet"))).toEqual([]);
      } finally {
        spawnSync("umount", [small]);
      }
    });

    function sqlFile(sql: string): string {
      const file = path.join(root, "question.sql");
      fs.writeFileSync(file, sql);
      return file;
    }
  },
);
