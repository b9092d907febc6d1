import puppeteer from "puppeteer-core";
const [,, base, out, ...pages] = process.argv;
const theme = process.env.THEME, W = Number(process.env.W ?? 1280), H = Number(process.env.H ?? 800);
const b = await puppeteer.launch({ executablePath: "/usr/bin/chromium", args: ["--headless","--no-sandbox","--disable-gpu"] });
const p = await b.newPage(); await p.setViewport({ width: W, height: H });
p.on("pageerror", e => console.log("ERR", e.message)); p.on("console", m => m.type()==="error" && console.log("C", m.text()));
if (theme) await p.evaluateOnNewDocument(t => localStorage.setItem("theme", t), theme);
let i=0;
for (const u of pages) { await p.goto(base+u, {waitUntil:"load"}); if (theme) await p.evaluate(t=>document.documentElement.dataset.theme=t, theme); await new Promise(r=>setTimeout(r,1800)); await p.screenshot({path:`${out}${i++}.png`, fullPage: !!process.env.FULL}); console.log(u, await p.evaluate(()=>[document.documentElement.scrollWidth, innerWidth, document.documentElement.scrollHeight])); }
await b.close();
