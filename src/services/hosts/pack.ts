import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { gzipSync } from "node:zlib";

/** What the measuring process consists of, as it is built into dist/. */
const FILES = ["engine.mjs", "portable-lane.mjs", "copy-side.mjs"];
/** The compiled part, for processors of this machine's kind. */
const COMPILED = "lanes.node";

/** The measuring process as it is sent to hosts: one document, and the digest by which it is kept there. */
export interface Pack {
  bytes: Buffer;
  sha256: string;
}

/**
 * Packs the measuring process.
 *
 * @param dist where it was built
 * @param compiled whether the compiled part goes along
 */
export function packEngine(dist: string, compiled: boolean): Pack {
  const names =
    compiled && fs.existsSync(path.join(/* turbopackIgnore: true */ dist, COMPILED))
      ? [...FILES, COMPILED]
      : FILES;
  const files = Object.fromEntries(
    names.map((name) => [
      name,
      fs.readFileSync(path.join(/* turbopackIgnore: true */ dist, name), "base64"),
    ]),
  );
  const bytes = gzipSync(JSON.stringify(files));
  return { bytes, sha256: createHash("sha256").update(bytes).digest("hex") };
}

/**
 * Unpacks a pack on a host: arguments are the folder to make and the pack's digest, the pack comes in. A runtime's
 * program for its -e: without quotes, line ends and signs that some shell reads. It ends with 3 where what arrived
 * is not what was sent.
 */
export const UNPACK = [
  'const f=require("fs"),c=require("crypto"),z=require("zlib"),[d,h]=process.argv.slice(1)',
  "const b=f.readFileSync(0)",
  'c.createHash("sha256").update(b).digest("hex")===h||process.exit(3)',
  'const t=d+"."+process.pid',
  "f.mkdirSync(t,{recursive:true,mode:448})",
  'for(const [n,x] of Object.entries(JSON.parse(z.gunzipSync(b))))f.writeFileSync(t+"/"+n,Buffer.from(x,"base64"),{mode:384})',
  "try{f.renameSync(t,d)}catch(e){f.rmSync(t,{recursive:true});f.existsSync(d)||process.exit(4)}",
].join(";");
