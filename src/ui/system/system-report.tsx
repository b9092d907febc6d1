import type { SeenNode, SystemReport } from "@/core/system/system-report";
import {
  addressOf,
  blockLine,
  cableLine,
  linkWords,
  nodeDetails,
  originWords,
  transportWords,
} from "@/core/system/system-words";
import { Fold } from "../controls/fold";
import { Sources } from "./sources";

/** What the system reported: findings first, then the way from host to drive, each fact with its file. */
export function SystemReportView({ report }: { report: SystemReport }) {
  const { mount, blocks, ways, cables, findings, gaps } = report;
  const origin = originWords(report);
  return (
    <div className="space-y-2">
      {origin && <p className="text-sm font-semibold">{origin}</p>}
      {findings.length > 0 && (
        <section>
          <h3 className="font-semibold">Warnings</h3>
          <ul className="list-disc pl-5">
            {findings.map(({ text, from }) => (
              <li key={text}>
                {text} <Sources from={from} />
              </li>
            ))}
          </ul>
        </section>
      )}
      {ways.map((way) => (
        <section key={way.end}>
          <h3 className="font-semibold">
            From the host to {way.end}
            {transportWords(way)}
          </h3>
          <ol>
            {way.nodes.map((node) => (
              <Node key={node.at} node={node} />
            ))}
          </ol>
        </section>
      ))}
      {cables.length > 0 && (
        <section>
          <h3 className="font-semibold">Cables that say what they are</h3>
          <ul className="list-disc pl-5">
            {cables.map((cable) => (
              <li key={cable.at}>
                {cableLine(cable)} <Sources from={[cable.at]} />
              </li>
            ))}
          </ul>
        </section>
      )}
      <section>
        <h3 className="font-semibold">File system and block devices</h3>
        {mount && (
          <p>
            {mount.point}: {mount.type} on {mount.source}{" "}
            <span className="text-secondary">({mount.options})</span>
          </p>
        )}
        {blocks.map((block) => (
          <Fold key={block.name} className="text-sm" summary={blockLine(block)}>
            <Facts facts={block.facts} />
          </Fold>
        ))}
      </section>
      {gaps.length > 0 && (
        <section>
          <h3 className="font-semibold">Could not be detected</h3>
          <ul className="list-disc pl-5 text-sm">
            {gaps.map(({ what, from, why }) => (
              <li key={what + from}>
                {what}: {why} <Sources from={[from]} />
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function Node({ node }: { node: SeenNode }) {
  const { name, maker, link, facts, at } = node;
  const address = addressOf(node);
  const more = nodeDetails(node);
  return (
    <li className="border-t border-line py-1">
      <Fold
        className="text-sm"
        summary={
          <>
            <span className="font-medium">{name}</span>
            {maker && `, ${maker}`}
            {address && <span className="figure text-[13px] text-secondary"> {address}</span>}
            {link && (
              <>
                {" "}
                at <span className="figure">{linkWords(link)}</span>
              </>
            )}
            {more.length > 0 && <span className="text-secondary"> · {more.join(" · ")}</span>}
          </>
        }
      >
        <Sources from={[at]} />
        <Facts facts={facts} />
      </Fold>
    </li>
  );
}

function Facts({ facts }: { facts: SeenNode["facts"] }) {
  return (
    <ul className="pl-4">
      {facts.map(({ what, value, from }, i) => (
        <li key={from + i}>
          {what}: <span className="figure">{value}</span> <Sources from={[from]} />
        </li>
      ))}
    </ul>
  );
}
