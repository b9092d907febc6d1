import { lexer, walkTokens } from "marked";
import { SAFE_LINK } from "./own-text";
import type { Block, Inline, ReportDocument, Table } from "@/core/report/document";
import { unturned } from "@/core/units/text";

/**
 * A report as Markdown.
 *
 * @param pictureAt where a picture stands beside it, by its key
 */
export function markdownOf(report: ReportDocument, pictureAt: (key: string) => string): string {
  const { title, author, made, origins, sections } = report;
  const links = sections.some(({ key }) => key === "runs");
  const head = [
    `# ${escaped(title)}`,
    escaped([author, made].filter(Boolean).join(" · ")),
    ...(origins ? [`**${escaped(origins)}**`] : []),
  ];
  const body = sections.flatMap(({ title: name, own, blocks }) => [
    `## ${escaped(name)}`,
    ...(own ? [ownText(own)] : []),
    ...blocks.map((block) => blockOf(block, pictureAt, links)),
  ]);
  return unturned(`${[...head, ...body].join("\n\n")}\n`);
}

function blockOf(block: Block, pictureAt: (key: string) => string, links: boolean): string {
  switch (block.kind) {
    case "heading":
      return `### ${escaped(block.text)}`;
    case "prose":
      return wordsOf(block.words, links);
    case "list":
      return block.items.map((words) => `- ${wordsOf(words, links)}`).join("\n");
    case "table":
      return tableOf(block.table, links);
    case "photo": {
      const { key, caption } = block.photo;
      return `![${escaped(caption)}](${pictureAt(key)})\n\n*${escaped(caption)}*`;
    }
    case "picture": {
      const { key, title, note, alt } = block.picture;
      return `![${escaped(alt)}](${pictureAt(key)})\n\n*${escaped(`${title}. ${note}`)}*`;
    }
  }
}

const wordsOf = (words: readonly Inline[], links: boolean): string =>
  words
    .map((one) =>
      typeof one === "string"
        ? escaped(one)
        : one.run && links
          ? `[${escaped(one.text)}](#${one.run})`
          : one.bottleneck
            ? `**${escaped(one.text)}**`
            : escaped(one.text),
    )
    .join("");

function tableOf({ title, note, columns, rows }: Table, links: boolean): string {
  const line = (cells: readonly string[]) => `| ${cells.join(" | ")} |`;
  return [
    `**${escaped(title)}**\n`,
    line(columns.map(({ name }) => escaped(name))),
    line(columns.map(({ figure }) => (figure ? "---:" : "---"))),
    ...rows.map((cells) =>
      line(
        columns.map((_, i) => {
          const cell = cells[i];
          if (!cell) return "";
          const text =
            cell.run && links ? `[${escaped(cell.text)}](#${cell.run})` : escaped(cell.text);
          return cell.anchor ? `<a id="${cell.anchor}"></a>${text}` : text;
        }),
      ),
    ),
    `\n*${escaped(note)}*`,
  ].join("\n");
}

/** Signs that Markdown, or a page made of it, would take for more than themselves. */
const SIGNS = /[\\`*_{}[\]<>()#+!|~&]/g;

/** Plain words as they stand in Markdown: nothing in them is markup, and no line ends in them. */
export const escaped = (text: string): string =>
  text
    .replace(/\s*[\r\n]+\s*/g, " ")
    .replace(SIGNS, (sign) => (sign === "<" ? "&lt;" : sign === "&" ? "&amp;" : `\\${sign}`))
    .replace(/^(\s*)([-=]|\d+\.)/, "$1\\$2");

/**
 * The tester's own Markdown, with what would be raw markup of a page as text, and so with pictures from
 * elsewhere and links that lead anywhere but to pages and mail addresses.
 */
export function ownText(markdown: string): string {
  const unsafe = new Set<string>();
  walkTokens(lexer(markdown), ({ type, raw, ...token }) => {
    const href = "href" in token ? String(token.href) : "";
    if (type === "image" || ((type === "link" || type === "def") && !SAFE_LINK.test(href)))
      unsafe.add(raw.trim());
  });
  let text = markdown;
  // The longest first: a picture may stand within a link.
  for (const raw of [...unsafe].toSorted((a, b) => b.length - a.length))
    text = text.replaceAll(raw, raw.replace(/[[\]()!:]/g, "\\$&"));
  return text.replaceAll("<", "&lt;");
}
