import puppeteer from "puppeteer-core";
const [,, base, w, ...pages] = process.argv;
const b = await puppeteer.launch({ executablePath: "/usr/bin/chromium", args: ["--headless","--no-sandbox","--disable-gpu"] });
const p = await b.newPage(); await p.setViewport({ width: Number(w), height: 844 });
for (const u of pages) { await p.goto(base+u, {waitUntil:"load"}); await new Promise(r=>setTimeout(r,1500));
 console.log("##", u, await p.evaluate(() => { const out=[]; const W=innerWidth; for (const e of document.querySelectorAll("main *, header *")) { const r=e.getBoundingClientRect(); if (r.right>W+1 && r.width>0) { let q=e.parentElement, clipped=false; while(q){ const s=getComputedStyle(q); if(s.overflowX!=="visible"){clipped=true;break;} q=q.parentElement;} if(!clipped) out.push(e.tagName+"."+(e.className.baseVal??e.className).toString().slice(0,60)+" "+Math.round(r.right)+" "+(e.textContent||"").slice(0,25)); } } return [document.documentElement.scrollWidth, ...out.slice(0,7)]; })); }
await b.close();
