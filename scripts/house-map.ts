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
  language: 'wiring as text: printed from the sentences, and read by them',
  kernel: 'worlds and ticks: what fires, in which order',
  reading: 'answers from a ledger: expectations, why not, lanes, matrix, coverage, comparison, sentences of entries, moments',
  rehearsal: 'a walk through a level, with its ledger; one that is walked live',
  formats: 'open formats in and out: CSV, value change dumps, logs of a play',
  search: 'what goes beyond one rehearsal: every set of house rules, varied runs, real plays',
  checks: 'what can be known without a walk: faults, warnings with their mends',
  diagnosis: 'fixes found by trying: small edits from the sentences of things, made on a copy and rehearsed over all walks',
};

/** What stands in each part of the kernel. */
const kernel: Record<string, string> = {
  queue: 'draining, numbering, telling',
  chains: 'runs, steps, watches, what conditions read',
  sensing: 'overlaps, crossings, bumps, plates, passages, what fixtures answer',
  physics: 'visitors: walking, falling, standing, riding, carrying; machines; which ticks can be passed over',
  state: 'world and plan: facts, poses, what is scheduled, what is raised; copy and key',
};

/** What stands in each folder of the studio, from the top. */
const studio: Record<string, string> = {
  page: 'the frame around an open level: navigation, help, list of commands, dialogs, the address',
  levels: 'the first screen: levels, worked examples, what was deleted',
  draw: 'the view in which rooms are drawn: plan and section, stencils, the panel of a thing',
  wire: 'the view in which chains are written: bands and their ruler',
  rehearse: 'the view in which walks are rehearsed: playback, ledger, lanes, why not, matrix, what if',
  check: 'the view that lists what is wrong',
  overview: 'the table of triggers and targets, which two views show',
  editing: 'commands and shortcuts, gestures on the board, clipboard, arranging, snapping, moments, what a thing is connected to',
  board: 'plan and section as drawings: figures, hit tests, handles, labels, pan and zoom',
  sentence: 'sentences with values that can be changed in place, conditions, names',
  saving: 'opening and saving a level, drafts, history, other windows, conflicts',
  state: 'the open level with its edits, and other stores: the room shown, findings, what edits changed in the walks',
  workers: 'what runs beside the page, and how it is asked; requests to the server; drafts in the browser',
  controls: 'slider, pager, tips, marks, names for lists, focus',
};

const core = join(root, 'packages/core/src');
const app = join(root, 'apps/web/src/app');

/** The map of the core, as Markdown: its rooms with what each uses, and the parts of the kernel. */
export function houseMap(): string {
  const links = imports(core);
  const room = (file: string): string | null => file.split('/')[0]!;
  const part = (file: string): string | null =>
    file.startsWith('kernel/') && file.split('/').length > 2 ? file.split('/')[1]! : null;
  known(links, rooms, room);
  return `${table(links, 'room', rooms, room)}\n\n${table(links, 'of the kernel', kernel, part)}`;
}

/** The map of the studio, as Markdown: its folders with what each uses. */
export function studioMap(): string {
  const links = imports(app);
  // What stands beside the folders starts the page.
  const folder = (file: string): string | null => (file.includes('/') ? file.split('/')[0]! : 'page');
  known(links, studio, folder);
  return table(links, 'folder', studio, folder);
}

interface Link {
  from: string;
  to: string;
}

function known(links: Link[], parts: Record<string, string>, of: (file: string) => string | null): void {
  const unknown = [...new Set(links.map(({ from }) => of(from)!))].filter((name) => !(name in parts) && name !== 'index.ts');
  if (unknown.length > 0) throw new Error(`scripts/house-map.ts does not know what stands in ${unknown.join(', ')}`);
}

function table(links: Link[], title: string, parts: Record<string, string>, of: (file: string) => string | null): string {
  const rows = Object.entries(parts).map(([part, what]) => {
    const files = new Set(links.filter(({ from }) => of(from) === part).map(({ from }) => from));
    const used = new Set(links.flatMap(({ from, to }) => (of(from) === part && of(to) !== part ? [of(to)] : [])));
    const uses = Object.keys(parts).filter((other) => used.has(other));
    return `| \`${part}/\` | ${what} | ${files.size} | ${uses.map((other) => `\`${other}\``).join(' ')} |`;
  });
  return [`| ${title} | what stands there | files | uses |`, '| --- | --- | --- | --- |', ...rows].join('\n');
}

/** The text of docs/contributing.md with the map of today in its place. */
export function withMap(text: string): string {
  const put = (into: string, name: string, map: string): string =>
    into.replace(
      new RegExp(`(<!-- ${name} -->\\n)[\\s\\S]*?(\\n<!-- end of ${name} -->)`),
      (_whole, begin: string, end: string) => `${begin}\n${map}\n${end}`,
    );
  return put(put(text, 'map', houseMap()), 'map of the studio', studioMap());
}

/** Every import of one file of a folder by another, as paths from that folder; each file imports itself too. */
function imports(folder: string): Link[] {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((path) => path.endsWith('.ts'))
    .flatMap((from) => [
      { from, to: from },
      ...[...readFileSync(join(folder, from), 'utf8').matchAll(/(?:from |import\()'(\.[^']+)'/g)].map((match) => ({
        from,
        to: relative(folder, normalize(join(folder, dirname(from), match[1]!))),
      })),
    ]);
}
