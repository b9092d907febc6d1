import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { gzipSync } from "node:zlib";

/** What the measuring process consists of, as it is built into dist/. */
const FILES = ["engine.mjs", "portable-lane.mjs", "copy-side.mjs"];
/** The compiled part, for processors of this machine's kind. */
const COMPILED = "lanes.node";
/** What it is compiled of, for all others. */
const SOURCE = "lanes-source";

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
  const place = (name: string) => path.join(/* turbopackIgnore: true */ dist, name);
  const source = fs.existsSync(place(SOURCE))
    ? fs.readdirSync(place(SOURCE)).map((name) => `${SOURCE}/${name}`)
    : [];
  const names = [
    ...FILES,
    ...source,
    ...(compiled && fs.existsSync(place(COMPILED)) ? [COMPILED] : []),
  ];
  const files = Object.fromEntries(
    names.map((name) => [name, fs.readFileSync(place(name), "base64")]),
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
  `f.mkdirSync(t+"/${SOURCE}",{recursive:true,mode:448})`,
  'for(const [n,x] of Object.entries(JSON.parse(z.gunzipSync(b))))f.writeFileSync(t+"/"+n,Buffer.from(x,"base64"),{mode:384})',
  "try{f.renameSync(t,d)}catch(e){f.rmSync(t,{recursive:true});f.existsSync(d)||process.exit(4)}",
].join(";");

/**
 * Sees to the compiled part on a host: one that does not run there, or is not there, is compiled if there is a
 * compiler. Arguments are the folder of the measuring process and the compiler, "" for none. What cannot be compiled
 * is left out: requests are then done by the runtime's own file calls.
 */
export const SEE_TO_LANES = [
  'const f=require("fs"),p=require("child_process"),[d,c]=process.argv.slice(1)',
  `const o=d+"/${COMPILED}",s=d+"/${SOURCE}",t=o+"."+process.pid`,
  "const broken=()=>{try{require(o);return false}catch{return true}}",
  'const x=f.readdirSync(s).filter(n=>n.endsWith(".c")).map(n=>s+"/"+n)',
  'const a=[...f.readFileSync(s+"/flags","utf8").split(" "),"-I",s,"-o",t,...x]',
  'const make=()=>{try{p.execFileSync(c,a,{stdio:"ignore",timeout:300000});f.renameSync(t,o)}catch{f.rmSync(t,{force:true})}}',
  "if(broken()){f.rmSync(o,{force:true});if(c)make();if(broken())f.rmSync(o,{force:true})}",
].join(";");
