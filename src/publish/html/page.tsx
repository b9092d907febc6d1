import { renderToStaticMarkup } from "react-dom/server";
import type { Block, Inline, ReportDocument, Section, Table } from "@/core/report/document";
import { rigsPicture } from "../pictures/rigs";
import { tracePicture } from "../pictures/trace";
import type { Picture } from "@/core/report/document";
import { unturned } from "@/core/units/text";
import { OwnText } from "../own-text";
import { fontRules } from "./fonts";
import { paperStyle, STYLE } from "./style";

/** A report as one file that needs nothing beside it: no network, no script. */
export function htmlOf(report: ReportDocument): string {
  const body = renderToStaticMarkup(<Body report={report} />);
  const foot = [report.title.slice(0, 90), report.made, report.origins ?? ""]
    .filter(Boolean)
    .join(" · ");
  const head = renderToStaticMarkup(
    <head>
      <meta charSet="utf-8" />
      <title>{report.title}</title>
      <meta name="viewport" content="width=device-width, initial-scale=1" />
      <meta name="generator" content="Nerrit" />
      <style
        dangerouslySetInnerHTML={{
          __html: fontRules(body) + STYLE + paperStyle(foot, report.form),
        }}
      />
    </head>,
  );
  return unturned(`<!DOCTYPE html>\n<html lang="en">${head}${body}</html>\n`);
}

/** A picture of a report, its colours by role. */
export const drawn = ({ drawn: what, alt }: Picture) =>
  what.kind === "rigs" ? rigsPicture(what, alt) : tracePicture(what, alt);

function Body({ report }: { report: ReportDocument }) {
  const { form, title, author, made, origins, sections } = report;
  const links = sections.some(({ key }) => key === "runs");
  return (
    <body className={form}>
      <main>
        <header>
          <h1 dir="auto">{title}</h1>
          <p className="secondary">
            {author && (
              <>
                <bdi>{author}</bdi>
                {" · "}
              </>
            )}
            {made}
          </p>
          {origins && <p className="origins">{origins}</p>}
        </header>
        {form === "report" && sections.length > 1 && (
          <nav aria-label="Sections">
            <ul>
              {sections.map(({ key, title: name }) => (
                <li key={key}>
                  <a href={`#${key}`}>{name}</a>
                </li>
              ))}
            </ul>
          </nav>
        )}
        {sections.map((section) => (
          <SectionOf key={section.key} section={section} links={links} />
        ))}
      </main>
    </body>
  );
}

function SectionOf({ section, links }: { section: Section; links: boolean }) {
  const { key, title, own, blocks } = section;
  return (
    <section id={key} aria-labelledby={`${key}-title`}>
      <h2 id={`${key}-title`}>{title}</h2>
      {own && <OwnText markdown={own} />}
      {blocks.map((block, i) => (
        <BlockOf key={i} block={block} links={links} />
      ))}
    </section>
  );
}

function BlockOf({ block, links }: { block: Block; links: boolean }) {
  switch (block.kind) {
    case "heading":
      return <h3 dir="auto">{block.text}</h3>;
    case "prose":
      return (
        <p className={block.large ? "large" : undefined}>
          <Words words={block.words} links={links} />
        </p>
      );
    case "list":
      return (
        <ul>
          {block.items.map((words, i) => (
            <li key={i}>
              <Words words={words} links={links} />
            </li>
          ))}
        </ul>
      );
    case "table":
      return <TableOf table={block.table} links={links} />;
    case "photo": {
      const { key, caption, type, data, width, height } = block.photo;
      return (
        <figure id={key}>
          <img src={`data:${type};base64,${data}`} alt={caption} width={width} height={height} />
          <figcaption dir="auto">{caption}</figcaption>
        </figure>
      );
    }
    case "picture": {
      const { title, note, key, runs } = block.picture;
      return (
        <figure id={key}>
          <figcaption>{title}</figcaption>
          <div
            className="scroll"
            tabIndex={0}
            role="group"
            aria-label={title}
            dangerouslySetInnerHTML={{ __html: drawn(block.picture).svg }}
          />
          <p className="note">
            {note}
            {links && runs.length > 0 && (
              <>
                {" Runs: "}
                {runs.map(({ text, run }, i) => (
                  <span key={i}>
                    {i > 0 && ", "}
                    <a href={`#${run}`}>{text}</a>
                  </span>
                ))}
                .
              </>
            )}
          </p>
        </figure>
      );
    }
  }
}

function Words({ words, links }: { words: readonly Inline[]; links: boolean }) {
  return words.map((one, i) => {
    if (typeof one === "string") return one;
    if (one.run && links)
      return (
        <a key={i} href={`#${one.run}`}>
          {one.text}
        </a>
      );
    return one.bottleneck ? (
      <span key={i} className="bottleneck">
        {one.text}
      </span>
    ) : (
      one.text
    );
  });
}

function TableOf({ table, links }: { table: Table; links: boolean }) {
  const { key, title, note, columns, rows } = table;
  const look = (i: number) => (columns[i]?.figure ? "figure" : undefined);
  return (
    <div className="table" id={`table-${key}`}>
      <div className="scroll" tabIndex={0} role="group" aria-label={title}>
        <table>
          <caption>{title}</caption>
          <thead>
            <tr>
              {columns.map(({ name }, i) => (
                <th key={i} scope="col" className={look(i)}>
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((cells, i) => (
              <tr key={i} id={cells[0]?.anchor}>
                {cells.map((cell, j) => {
                  const text =
                    cell.run && links ? <a href={`#${cell.run}`}>{cell.text}</a> : cell.text;
                  // What stands for the rest of a row takes its room.
                  const span =
                    j === cells.length - 1 && cells.length < columns.length
                      ? columns.length - j
                      : undefined;
                  return j === 0 ? (
                    <th key={j} scope="row" dir="auto">
                      {text}
                    </th>
                  ) : (
                    <td key={j} className={span ? undefined : look(j)} colSpan={span} dir="auto">
                      {text}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="note">{note}</p>
    </div>
  );
}
