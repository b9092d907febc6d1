import puppeteer from "puppeteer-core";
const [,, out, url, w="1280", h="800", theme="light", click] = process.argv;
const b = await puppeteer.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox"] });
const p = await b.newPage();
await p.setViewport({ width: +w, height: +h });
await p.emulateMediaFeatures([{ name: "prefers-color-scheme", value: theme }]);
p.on("pageerror", (e) => console.log("ERR", e.message));
p.on("console", (m) => m.type() === "error" && console.log("CON", m.text()));
await p.goto("http://127.0.0.1:4711" + url, { waitUntil: "load" });
await new Promise((r) => setTimeout(r, 1200));
if (click) { for (const c of click.split(";;")) { await p.evaluate((t) => { const e=[...document.querySelectorAll("button,a,summary,[role=radio],[role=tab]")].find((x)=>x.textContent.trim().startsWith(t)); e?.scrollIntoView(); e?.click(); }, c); await new Promise((r) => setTimeout(r, 900)); } }
console.log(await p.evaluate(() => [document.documentElement.scrollWidth, innerWidth, document.documentElement.scrollHeight]));
await p.screenshot({ path: out });
await b.close();
