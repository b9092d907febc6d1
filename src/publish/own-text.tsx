import { lexer, type Token, type Tokens } from "marked";
import type { ReactNode } from "react";

/** Addresses that a link may lead to; anything else stays text. */
export const SAFE_LINK = /^(https?:|mailto:)/i;

/**
 * The tester's own words, written in Markdown. What looks like markup of a page stays the text it is:
 * only the elements below are ever made of it.
 */
export function OwnText({ markdown }: { markdown: string }) {
  return <div className="own">{all(lexer(markdown))}</div>;
}

const all = (tokens: readonly Token[] = []): ReactNode[] =>
  tokens.map((token, i) => <Piece key={i} token={token} />);

function Piece({ token }: { token: Token }): ReactNode {
  switch (token.type) {
    case "space":
    case "def":
      return null;
    case "heading":
      // The report's own headings are of the first two levels.
      return token.depth <= 1 ? <h3>{all(token.tokens)}</h3> : <h4>{all(token.tokens)}</h4>;
    case "paragraph":
      return <p>{all(token.tokens)}</p>;
    case "blockquote":
      return <blockquote>{all(token.tokens)}</blockquote>;
    case "hr":
      return <hr />;
    case "code":
      return (
        <pre>
          <code>{token.text as string}</code>
        </pre>
      );
    case "list": {
      const { ordered, items, start } = token as Tokens.List;
      const rows = items.map((item, i) => <li key={i}>{all(item.tokens)}</li>);
      return ordered ? <ol start={start === "" ? 1 : start}>{rows}</ol> : <ul>{rows}</ul>;
    }
    case "table": {
      const { header, rows } = token as Tokens.Table;
      return (
        <table>
          <thead>
            <tr>
              {header.map((cell, i) => (
                <th key={i} scope="col">
                  {all(cell.tokens)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => (
              <tr key={i}>
                {row.map((cell, j) => (
                  <td key={j}>{all(cell.tokens)}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      );
    }
    case "strong":
      return <strong>{all(token.tokens)}</strong>;
    case "em":
      return <em>{all(token.tokens)}</em>;
    case "del":
      return <del>{all(token.tokens)}</del>;
    case "codespan":
      return <code>{plain(token.text as string)}</code>;
    case "br":
      return <br />;
    case "link":
      return SAFE_LINK.test(token.href as string) ? (
        <a href={token.href as string}>{all(token.tokens)}</a>
      ) : (
        <>{token.raw}</>
      );
    case "text":
    case "escape":
      return token.type === "text" && "tokens" in token && token.tokens ? (
        <>{all(token.tokens)}</>
      ) : (
        <>{plain((token as Tokens.Text).text)}</>
      );
    default:
      // Markup, pictures from elsewhere, and whatever else there may be: as it was typed.
      return <>{token.raw}</>;
  }
}

/** Text without the escapes that the reader of Markdown puts in for pages. */
const plain = (text: string): string =>
  text.replace(/&(?:amp|lt|gt|quot|#39);/g, (sign) => ESCAPED[sign]!);
const ESCAPED: Record<string, string> = {
  "&amp;": "&",
  "&lt;": "<",
  "&gt;": ">",
  "&quot;": '"',
  "&#39;": "'",
};
