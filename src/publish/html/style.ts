import type { ReportDocument } from "@/core/report/document";
import { DARK, FONTS, LIGHT, rolesIn } from "../theme";

/** How a report looks: on a screen of any width, by day and night, and on paper. */
export const STYLE = `
:root{${rolesIn(LIGHT)};color-scheme:light}
@media (prefers-color-scheme:dark){:root{${rolesIn(DARK)};color-scheme:dark}}
*{box-sizing:border-box}
html{-webkit-text-size-adjust:100%}
body{margin:0;background:var(--paper);color:var(--ink);font:16px/1.45 ${FONTS.sans};overflow-wrap:anywhere}
main{max-width:53rem;margin:0 auto;padding:1.5rem 1.25rem 4rem}
header{border-bottom:1px solid var(--line);padding-bottom:.75rem;margin-bottom:1.25rem}
h1{font:400 2.1rem/1.15 ${FONTS.serif};margin:0 0 .25rem;text-wrap:balance}
h2{font:400 1.55rem/1.2 ${FONTS.serif};margin:2.6rem 0 .6rem;border-top:1px solid var(--line);padding-top:.9rem}
h3{font-size:1.05rem;font-weight:600;margin:1.5rem 0 .35rem}
h4{font-size:1rem;font-weight:600;margin:1rem 0 .3rem}
p{margin:.45rem 0;max-width:46rem}
.large{font:400 1.45rem/1.32 ${FONTS.serif};text-wrap:pretty;max-width:none}
.bottleneck{text-decoration:underline;text-decoration-color:var(--bottleneck);text-decoration-thickness:2px;text-underline-offset:4px}
.secondary,.note{color:var(--secondary)}
.note{font-size:.85rem;margin:.3rem 0 0}
.origins{border-left:3px dashed var(--ink);padding-left:.75rem;font-weight:600}
a{color:inherit;text-decoration-color:var(--secondary);text-underline-offset:2px}
a:focus-visible,.scroll:focus-visible{outline:2px solid var(--flow);outline-offset:2px}
nav ul{display:flex;flex-wrap:wrap;gap:.1rem 1.1rem;list-style:none;padding:0;margin:0;max-width:none;font-size:.92rem}
section:first-of-type h2{border:0;padding:0;margin-top:1.6rem}
ul,ol{margin:.35rem 0;padding-left:1.25rem;max-width:46rem}
li{margin:.2rem 0}
figure{margin:1.2rem 0;background:var(--sheet);border:1px solid var(--line);padding:.85rem 1rem}
figcaption{font-weight:600;margin-bottom:.5rem}
figure svg{display:block;width:100%;height:auto;min-width:34rem}
figure svg svg{width:auto;min-width:0}
figure img{display:block;max-width:100%;height:auto;max-height:70vh;width:auto;margin:0 auto .5rem}
.scroll{overflow-x:auto}
table{border-collapse:collapse;width:100%;font-size:.92rem}
caption{text-align:left;font-weight:600;padding:.2rem 0 .3rem}
th,td{text-align:left;vertical-align:top;padding:.28rem .8rem .28rem 0;border-bottom:1px solid var(--line)}
th{font-weight:600}
td:not(.figure){min-width:5.5rem}tbody th{min-width:8rem}
thead th{color:var(--secondary);font-weight:400;white-space:nowrap}
.figure{text-align:right;font-family:${FONTS.mono};font-variant-numeric:tabular-nums;font-size:.86rem;white-space:nowrap}
thead th.figure+th:not(.figure){padding-left:1rem}
thead .figure{font-family:${FONTS.sans};font-size:inherit}
td.figure+td:not(.figure){padding-left:1rem}
.table{margin:1.2rem 0}
.own{border-left:2px solid var(--line);padding-left:.9rem;margin:.8rem 0}
.own table{width:auto}
pre{overflow-x:auto;white-space:pre-wrap;font:.85rem/1.4 ${FONTS.mono}}
code{font-family:${FONTS.mono};font-size:.88em}
blockquote{margin:.5rem 0;padding-left:.9rem;border-left:2px solid var(--line)}
tr:target{background:var(--bank)}
.sheet main{max-width:84rem}
.card h2{font-size:1.2rem;margin:1.2rem 0 .2rem;padding-top:.5rem}.card .table{margin:.3rem 0}.card caption,.sheet caption{position:absolute;clip-path:inset(50%);height:1px;overflow:hidden}
@media (max-width:40rem){main{padding:1rem .9rem 3rem}h1{font-size:1.6rem}.large{font-size:1.2rem}figure{padding:.6rem}}
`;

/** On paper: light, with numbered pages, what belongs together on one of them. @param foot on every page */
export const paperStyle = (foot: string, form: ReportDocument["form"]): string => `
@page{size:A4${form === "sheet" ? " landscape" : ""};margin:16mm 15mm 18mm;@bottom-left{content:${quoted(foot)};font:9pt ${FONTS.sans};color:#566466}@bottom-right{content:counter(page) " / " counter(pages);font:9pt ${FONTS.mono};color:#566466}}
@media print{:root{${rolesIn(LIGHT)};--paper:#fff;--sheet:#fff}
body{font-size:10.5pt;background:#fff}
main{max-width:none;padding:0}
nav{display:none}
h2{margin-top:1.4rem}
h2,h3,h4,caption{break-after:avoid}
figure,li,tr,p{break-inside:avoid}
figure svg{min-width:0}
.scroll{overflow:visible}
thead{display:table-header-group}
table{font-size:8.6pt}.figure{font-size:8.2pt}th,td{padding-right:.5rem}td:not(.figure),tbody th{min-width:0}
thead th{white-space:normal}
.card{font-size:9.5pt;line-height:1.2}.card h1{font-size:18pt}.card h2{margin:.55rem 0 .1rem;padding-top:.3rem}.card header{margin-bottom:.4rem;padding-bottom:.3rem}.card th,.card td{padding-top:.12rem;padding-bottom:.12rem}.card .note{font-size:7.6pt;margin:0}
.note{break-before:avoid}
figure{padding:.5rem .7rem;margin:.8rem 0}
a{text-decoration:none}}
`;

/** A text as a sheet of styles holds it: nothing in it ends the text, the rule or the element. */
const quoted = (text: string): string =>
  `"${[...text].map((sign) => (/[\w .,:;()-]/.test(sign) ? sign : `\\${sign.codePointAt(0)!.toString(16)} `)).join("")}"`;
