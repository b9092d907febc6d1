/**
 * npm run texts: lists every text that somebody reads (pages, commands, findings, errors) in .cache/texts.txt, file
 * by file, for a reader to skim. scripts/texts.test.mjs holds them to the rules that can be checked.
 */
import fs from "node:fs";
import path from "node:path";
import process from "node:process";
import { fileURLToPath } from "node:url";
import ts from "typescript";

const root = path.join(path.dirname(fileURLToPath(import.meta.url)), "..");
/** Attributes whose values are names or looks, never words. */
const NO_WORDS =
  /^(class(Name)?|d|id|key|href|src|name|type|role|method|rel|viewBox|transform|style|stroke.*|fill|autoComplete|inputMode|data-.*|aria-(live|labelledby|controls|describedby|sort|hidden))$/;
/** Calls whose texts are read by programs. */
const FOR_PROGRAMS =
  /^(sql|require|import|RegExp|URL|URLSearchParams|querySelector|getPropertyValue)$/;

/** @returns {{file: string, line: number, text: string}[]} every text of a file that reads like words */
export function textsIn(file, source = fs.readFileSync(file, "utf8")) {
  const tree = ts.createSourceFile(file, source, ts.ScriptTarget.Latest, true);
  const found = [];
  const keep = (node, raw) => {
    const text = raw.replace(/\s+/g, " ").trim();
    if (!isWords(text)) return;
    const { line } = tree.getLineAndCharacterOfPosition(node.getStart(tree));
    found.push({ file, line: line + 1, text });
  };
  const visit = (node) => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) return;
    if (ts.isJsxAttribute(node) && NO_WORDS.test(node.name.getText(tree))) return;
    if (ts.isTaggedTemplateExpression(node)) return;
    if (ts.isCallExpression(node) && FOR_PROGRAMS.test(node.expression.getText(tree))) return;
    // What an archive's engine reads.
    if (ts.isPropertyAssignment(node) && node.name.getText(tree) === "sql") return;
    if (ts.isTypeNode(node)) return;
    if (ts.isJsxElement(node) || ts.isJsxFragment(node)) {
      const words = node.children.map((child) => inline(child)).join("");
      if (node.children.some((child) => ts.isJsxText(child) && child.text.trim()))
        keep(node, words);
    } else if (ts.isStringLiteralLike(node)) keep(node, node.text);
    else if (ts.isTemplateExpression(node))
      keep(
        node,
        node.head.text + node.templateSpans.map(({ literal }) => `…${literal.text}`).join(""),
      );
    ts.forEachChild(node, visit);
  };
  visit(tree);
  return found;
}

/** What a child of an element puts into its sentence: its words, or a gap. */
function inline(child) {
  if (ts.isJsxText(child)) return child.text;
  if (ts.isJsxExpression(child)) {
    const { expression } = child;
    if (!expression) return "";
    return ts.isStringLiteralLike(expression) ? expression.text : "…";
  }
  return "…";
}

/** Whether a text is words: two or more of them, and not a path, a class list, a query or a piece of code. */
function isWords(text) {
  const words = text.match(/[A-Za-z’']{2,}/g) ?? [];
  if (words.length < 2 || !text.includes(" ")) return false;
  if (
    /^[a-z-]+(\[|:|\/)|^--|[{}<>=]|;$|:\S+;|\\|^\.|^#|^@|\bflex\b|\btext-\[|\bpx-\d|\bborder-/.test(
      text,
    )
  )
    return false;
  return (
    (/^[\s\S]*[a-z]{2}[\s\S]*$/.test(text) && !/^[a-z0-9 ]+$/.test(text)) ||
    /[.:?]$|^[A-Z]/.test(text)
  );
}

/** Every file with texts that somebody reads. */
export function filesWithTexts() {
  const all = fs.readdirSync(path.join(root, "src"), { recursive: true }).map(String);
  return all
    .filter((file) => /^(app|ui|cli|core|services|engine)\//.test(file))
    .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$|\/testing\//.test(file))
    .map((file) => path.join(root, "src", file))
    .toSorted();
}

/** The sentences of a text. */
export const sentencesOf = (text) =>
  text
    .split(/(?<=[.?!])\s+(?=[A-Z“…])|;\s+|:\s+(?=[A-Z])/)
    .filter((sentence) => /\w/.test(sentence));

/** Words of a sentence; a gap counts as one. */
export const wordsOf = (sentence) => sentence.split(/\s+/).filter((word) => /[\w…]/.test(word));

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const out = path.join(root, ".cache/texts.txt");
  fs.mkdirSync(path.dirname(out), { recursive: true });
  const lines = filesWithTexts().flatMap((file) => {
    const texts = textsIn(file);
    if (texts.length === 0) return [];
    const name = path.relative(root, file);
    return [``, name, ...texts.map(({ line, text }) => `${String(line).padStart(5)}  ${text}`)];
  });
  fs.writeFileSync(out, `${lines.join("\n")}\n`);
  console.log(`${lines.length} lines in ${path.relative(process.cwd(), out)}`);
}
