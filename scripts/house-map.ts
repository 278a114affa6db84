import { readFileSync, readdirSync } from 'node:fs';
import { dirname, join, normalize, relative } from 'node:path';
import { root } from './paths';

// Draws the map of the house for docs/contributing.md from the imports of the code itself.

/** What stands in each room of the core, from the ground up. */
const rooms: Record<string, string> = {
  vocabulary: 'the words of the trade: quantities, ticks, ids, places, events, entries, rules, sentences with values in them',
  space: 'shapes, overlaps, sweeps, the grid, ways',
  ledger: 'entries and their details, the columns they are kept in, their reader, tracks',
  kinds: 'every kind of fixture, step, gate and cause, one file each, and the registries',
  conditions: 'the expression language of guards, watches and waits',
  document: 'the level: schema, edits, references, migrations, reading and writing',
  pieces: 'set pieces: ready arrangements that are placed from a list',
  sentences: 'what is said of things and chains, with the values in place',
  kernel: 'worlds and ticks: what fires, in which order',
  reading: 'answers from a ledger: expectations, why not, lanes, matrix, coverage, comparison, sentences of entries, moments',
  rehearsal: 'a walk through a level, with its ledger; one that is walked live',
  formats: 'open formats in and out: CSV, value change dumps, logs of a play',
  search: 'what goes beyond one rehearsal: every set of house rules, varied runs, real plays',
  checks: 'what can be known without a walk: faults, warnings with their mends',
};

/** What stands in each part of the kernel. */
const kernel: Record<string, string> = {
  queue: 'draining, numbering, telling, runaways',
  chains: 'runs, steps, watches, changes of the state',
  motion: 'machines, their courses and clocks',
  bodies: 'visitors: walking, falling, standing, riding, carrying, travelling',
  sensing: 'overlaps, crossings, bumps, plates, what fixtures answer',
  sleeping: 'which ticks can be passed over',
};

const core = join(root, 'packages/core/src');

/** The map, as Markdown: the rooms of the core with what each uses, and the parts of the kernel. */
export function houseMap(): string {
  const links = imports();
  const table = (title: string, parts: Record<string, string>, of: (file: string) => string | null): string => {
    const rows = Object.entries(parts).map(([part, what]) => {
      const files = new Set(links.filter(({ from }) => of(from) === part).map(({ from }) => from));
      const used = new Set(links.flatMap(({ from, to }) => (of(from) === part && of(to) !== part ? [of(to)] : [])));
      const uses = Object.keys(parts).filter((other) => used.has(other));
      return `| \`${part}/\` | ${what} | ${files.size} | ${uses.map((other) => `\`${other}\``).join(' ')} |`;
    });
    return [`| ${title} | what stands there | files | uses |`, '| --- | --- | --- | --- |', ...rows].join('\n');
  };
  const room = (file: string): string | null => file.split('/')[0]!;
  const part = (file: string): string | null =>
    file.startsWith('kernel/') && file.split('/').length > 2 ? file.split('/')[1]! : null;
  const unknown = [...new Set(links.map(({ from }) => room(from)!))].filter((name) => !(name in rooms) && name !== 'index.ts');
  if (unknown.length > 0) throw new Error(`scripts/house-map.ts does not know what stands in ${unknown.join(', ')}`);
  return `${table('room', rooms, room)}\n\n${table('of the kernel', kernel, part)}`;
}

/** The text of docs/contributing.md with the map of today in its place. */
export function withMap(text: string): string {
  return text.replace(
    /(<!-- map -->\n)[\s\S]*?(\n<!-- end of map -->)/,
    (_whole, begin: string, end: string) => `${begin}\n${houseMap()}\n${end}`,
  );
}

/** Every import of one file of the core by another, as paths from the core's folder; each file imports itself too. */
function imports(): { from: string; to: string }[] {
  return readdirSync(core, { recursive: true, encoding: 'utf8' })
    .filter((path) => path.endsWith('.ts'))
    .flatMap((from) => [
      { from, to: from },
      ...[...readFileSync(join(core, from), 'utf8').matchAll(/from '(\.[^']+)'/g)].map((match) => ({
        from,
        to: relative(core, normalize(join(core, dirname(from), match[1]!))),
      })),
    ]);
}
