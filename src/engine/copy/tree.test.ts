import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { openFolder, Tree } from "./tree";

const { O_RDONLY, O_WRONLY, O_CREAT, O_EXCL } = fs.constants;

describe("files below a folder that is held open", () => {
  let folder: string;
  let elsewhere: string;
  let root: number;
  beforeEach(() => {
    [folder, elsewhere] = ["held", "private"].map((name) =>
      fs.mkdtempSync(path.join(os.tmpdir(), `nerrit-${name}-`)),
    ) as [string, string];
    root = openFolder(folder);
  });
  afterEach(() => {
    fs.closeSync(root);
    for (const one of [folder, elsewhere]) fs.rmSync(one, { recursive: true, force: true });
  });
  const make = (tree: Tree, name: string) =>
    fs.closeSync(tree.open(name, O_WRONLY | O_CREAT | O_EXCL, true));

  it("are made and found again, however deep, also when the folder itself has moved", () => {
    const tree = new Tree(root);
    make(tree, "a/b/c");
    fs.renameSync(folder, `${folder}-moved`);
    make(tree, "a/d");
    make(tree, "plain");
    expect(fs.readdirSync(path.join(`${folder}-moved`, "a")).toSorted()).toEqual(["b", "d"]);
    fs.closeSync(tree.open("a/b/c", O_RDONLY));
    tree.close();
    fs.renameSync(`${folder}-moved`, folder);
  });

  it("are never reached through a link, in any step of the way", () => {
    fs.writeFileSync(path.join(elsewhere, "secret"), "mine");
    fs.mkdirSync(path.join(folder, "a"));
    fs.symlinkSync(elsewhere, path.join(folder, "a", "way"));
    fs.symlinkSync(path.join(elsewhere, "secret"), path.join(folder, "file"));
    const tree = new Tree(root);
    expect(() => tree.open("a/way/secret", O_RDONLY)).toThrow(/ENOTDIR|ELOOP/);
    expect(() => make(tree, "a/way/new")).toThrow(/ENOTDIR|ELOOP/);
    expect(() => tree.open("file", O_RDONLY)).toThrow(/ELOOP/);
    tree.close();
    expect(fs.readdirSync(elsewhere)).toEqual(["secret"]);
    expect(() => openFolder(path.join(folder, "a", "way"))).toThrow(/ENOTDIR|ELOOP/);
  });

  it("leave no handle open", () => {
    const open = () => fs.readdirSync("/proc/self/fd").length;
    const before = open();
    const tree = new Tree(root);
    for (let i = 0; i < 50; i++) make(tree, `f${i % 7}/g${i}/x`);
    tree.close();
    expect(open()).toBe(before);
  });
});
