import { bundled } from "./scripts/bundled.mjs";
const { makeBench, judgeAlong } = await bundled(["core/locate/testing/made-bench","core/judge/testing/judged-bench"]);
const c={};
for (let i=0;i<120;i++){ const j=judgeAlong(makeBench(550000+i)); if(!j) continue; for (const v of j.verdicts){ const k=(j.keeps?"keeps ":"breaks ")+v.kind+(v.told?" told":""); c[k]=(c[k]??0)+1;} }
console.log(c);
