import { entrySentence, expectationPhrase, nameOf, readByNames, spoken } from '@nettlewick/core';
import type { ExpectationResult, Level, Walk } from '@nettlewick/core';
import { escaped, planSvg } from '../board/plan-svg';
import type { PlanPage } from '../board/plan-svg';
import type { RehearsalView } from '../workers/rehearsal';

/** What a report is made of. */
export interface Reported {
  level: Level;
  walk: Walk;
  rehearsal: RehearsalView;
  /** The rooms, each as it is to be drawn. */
  sheets: readonly PlanPage[];
  revision: number | null;
}

/** The most entries in a printed report. */
const MAX_PRINTED_ENTRIES = 2000;

/** A rehearsal as one page of HTML that needs nothing else: what was expected, the plans with the ways, and the ledger. */
export function reportHtml({ level, walk, rehearsal, sheets, revision }: Reported): string {
  const { ledger, rate, ticks, expectations } = rehearsal;
  const named = (id: string): string => nameOf(level, id).trim();
  const depths: number[] = [];
  const rows: string[] = [];
  for (const entry of ledger) {
    const depth = entry.cause === null ? 0 : depths[entry.cause - 1]! + 1;
    depths.push(depth);
    if (entry.number > MAX_PRINTED_ENTRIES) continue;
    rows.push(
      `<tr class="${entry.kind}"><td>${entry.number}</td><td>${entry.seconds.toFixed(2)}</td><td style="padding-left:${Math.min(depth, 8)}em">${escaped(entrySentence(entry, named, level))}</td><td>${entry.cause ?? ''}</td></tr>`,
    );
  }
  const title = `${level.name.trim()}: ${walk.name.trim()}`;
  const saidOf = ({ id, label }: ExpectationResult): string => {
    const asked = walk.expectations.find((one) => one.id === id);
    return label === '' && asked !== undefined ? spoken(expectationPhrase(asked), named) : label;
  };
  const met = expectations.filter(({ passed }) => passed).length;
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>${escaped(title)}</title>
<style>
body{max-width:60rem;margin:2rem auto;padding:0 1rem;font:16px/1.45 Georgia,serif;color:#2b2620;background:#fff}
h1,h2{font-family:sans-serif}
svg{max-width:100%;height:auto;border:1px solid #cfc3a8}
table{width:100%;border-collapse:collapse}
td,th{padding:.15rem .4rem;border-bottom:1px solid #ddd;text-align:left;vertical-align:top}
td:first-child,td:nth-child(2),td:last-child{font-family:monospace;text-align:right}
.held td:nth-child(3){font-style:italic;color:#7a4a00}
.runaway td:nth-child(3),.missed td:nth-child(3),.blocked td:nth-child(3),.unmet{color:#a3301b;font-weight:bold}
@media print{h2,figure{break-after:avoid}tr{break-inside:avoid}}
</style>
</head>
<body>
<h1>${escaped(title)}</h1>
<p>${(ticks / rate).toFixed(2)} seconds at ${rate} ticks a second, ${ledger.length} entries${revision === null ? '' : `; revision ${revision} of the level`}.</p>
${
  expectations.length === 0
    ? ''
    : `<h2>Expected: ${met} of ${expectations.length} met</h2>\n<ul>\n${expectations.map((one) => `<li${one.passed ? '' : ' class="unmet"'}>${one.passed ? 'met' : 'NOT met'}: ${escaped(saidOf(one))} (${escaped(readByNames(one.because, named))})</li>`).join('\n')}\n</ul>`
}
${sheets.map((sheet) => `<h2>${escaped(named(sheet.room))}</h2>\n<figure style="margin:0">${planSvg(sheet)}</figure>`).join('\n')}
<h2>Ledger</h2>
<table>
<thead><tr><th>no</th><th>seconds</th><th>what happened, and why</th><th>cause</th></tr></thead>
<tbody>
${rows.join('\n')}
</tbody>
</table>
${ledger.length > MAX_PRINTED_ENTRIES ? `<p>… and ${ledger.length - MAX_PRINTED_ENTRIES} more entries.</p>` : ''}
</body>
</html>
`;
}
