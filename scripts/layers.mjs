/**
 * npm run layers: draws docs/layers.svg, which folder of src/core imports which, from the code itself. A dot
 * says that the folder of its row imports the folder of its column; all dots lie below the diagonal, since
 * each imports only what stands before it (.dependency-cruiser.mjs).
 *
 * Usage: npm run layers [-- --check]     (--check: draws nothing, and exits with 1 where the picture is old)
 */
import { spawnSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import prettier from "prettier";
import { CORE } from "../.dependency-cruiser.mjs";
import { root } from "./prepare.mjs";

const FILE = path.join(root, "docs/layers.svg");
const [CELL, LEFT, TOP] = [22, 96, 96];

const { stdout } = spawnSync(
  path.join(root, "node_modules/.bin/depcruise"),
  ["src/core", "--output-type", "json", "--include-only", "^src/core"],
  { cwd: root, encoding: "utf8", maxBuffer: 2 ** 28 },
);
const folderOf = (file) => file.split("/")[2];
/** Imports of each pair of folders, tests left out. */
const counts = new Map();
for (const { source, dependencies } of JSON.parse(stdout).modules) {
  if (/[.]test[.]|\/testing\//.test(source)) continue;
  for (const { resolved } of dependencies) {
    const pair = [folderOf(source), folderOf(resolved)];
    if (pair[0] !== pair[1]) counts.set(pair.join(), (counts.get(pair.join()) ?? 0) + 1);
  }
}

const middle = (at) => at * CELL + CELL / 2;
const rows = CORE.map((name, at) => {
  const dots = CORE.flatMap((other, column) => {
    const count = counts.get([name, other].join());
    if (!count) return [];
    const radius = Math.min(CELL / 2 - 2, 2 + Math.sqrt(count));
    const place = `cx="${LEFT + middle(column)}" cy="${TOP + middle(at)}" r="${radius.toFixed(1)}"`;
    return `<circle ${place}><title>${name} imports ${other}: ${count}</title></circle>`;
  });
  const y = TOP + middle(at) + 4;
  const x = LEFT + middle(at) + 4;
  return [
    `<text x="${LEFT - 8}" y="${y}" text-anchor="end">${name}</text>`,
    `<text x="${x}" y="${TOP - 8}" transform="rotate(-60 ${x} ${TOP - 8})">${name}</text>`,
    `<rect x="${LEFT + at * CELL}" y="${TOP + at * CELL}" width="${CELL}" height="${CELL}" fill="#e8e6df"/>`,
    ...dots,
  ].join("\n");
});
const [width, height] = [LEFT + CORE.length * CELL + 60, TOP + CORE.length * CELL + 16];
const drawn = await prettier.format(
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="sans-serif" font-size="12" fill="#222">
<title>Which folder of src/core imports which: rows import columns, and only what stands before them</title>
<rect width="${width}" height="${height}" fill="#fbfaf6"/>
${rows.join("\n")}
</svg>`,
  { parser: "html", printWidth: 100 },
);
if (!process.argv.includes("--check")) fs.writeFileSync(FILE, drawn);
else if (!fs.existsSync(FILE) || fs.readFileSync(FILE, "utf8") !== drawn) {
  console.error("docs/layers.svg is older than the code: npm run layers draws it anew.");
  process.exit(1);
}
