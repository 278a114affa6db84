import { isMachine } from '../kinds/fixtures';
import type { Level } from '../document/level';
import { valuesAt } from '../ledger/tracks';
import type { Track, Tracks } from '../ledger/tracks';
import type { Ledger } from '../ledger/ledger';

/** What of a rehearsal its states are read from. */
interface Played {
  rate: number;
  ticks: number;
  tracks: Tracks;
  ledger: Ledger;
}

/** One state over time: what it is called, what it is, and its values from tick to tick. */
interface Wave {
  scope: string;
  name: string;
  type: 'wire' | 'integer' | 'real';
  width: number;
  values: { tick: number; value: number }[];
}

/**
 * The states of a rehearsal over time as a value change dump (IEEE 1364-2005, clause 18): where visitors are and how many zones they
 * are in, the clocks of what moves, flags, counters, what is pressed, open, shown, solid and enabled, and how often each chain is
 * running. Times are whole microseconds. What has a name of its own in the level is called by it, with signs for what may not stand in
 * a name there.
 */
export function statesVcd(level: Level, { rate, ticks, tracks, ledger }: Played): string {
  const waves = wavesOf(level, { rate, ticks, tracks, ledger });
  const named = new Set<string>();
  const lines = [
    `$comment ${plain(level.name)} $end`,
    '$timescale 1us $end',
    ...scoped(waves, (wave, at) => `$var ${wave.type} ${wave.width} ${code(at)} ${unique(wave, named)} $end`),
    '$enddefinitions $end',
    '#0',
    '$dumpvars',
    ...waves.map((wave, at) => change(wave, at, wave.values[0]?.tick === 0 ? wave.values[0].value : 0)),
    '$end',
  ];
  const changes = waves.flatMap((wave, at) =>
    wave.values.filter(({ tick }) => tick > 0).map(({ tick, value }) => ({ tick, line: change(wave, at, value) })),
  );
  changes.sort((a, b) => a.tick - b.tick);
  let last = 0;
  for (const { tick, line } of changes) {
    if (tick !== last) lines.push(`#${Math.round((tick * 1e6) / rate)}`);
    last = tick;
    lines.push(line);
  }
  if (ticks > last) lines.push(`#${Math.round((ticks * 1e6) / rate)}`);
  return `${lines.join('\n')}\n`;
}

function wavesOf(level: Level, { ticks, tracks, ledger }: Played): Wave[] {
  const waves = new Map<string, Wave>();
  const wave = (scope: string, id: string, name: string, type: Wave['type'], first: number): void => {
    const width = { wire: 1, integer: 32, real: 64 }[type];
    waves.set(id, { scope, name, type, width, values: [{ tick: 0, value: first }] });
  };
  const set = (id: string, tick: number, value: number): void => {
    const values = waves.get(id)?.values;
    const last = values?.at(-1);
    if (values === undefined || last === undefined || last.value === value) return;
    // Of what changes several times in a tick the last is what it is.
    if (last.tick === tick) last.value = value;
    else values.push({ tick, value });
  };
  const add = (id: string, tick: number, by: number): void => set(id, tick, (waves.get(id)?.values.at(-1)?.value ?? 0) + by);
  const follow = (id: string, track: Track | undefined, at: number): void => {
    if (track === undefined) return;
    for (let tick = 1; tick <= ticks; tick++) set(id, tick, rounded(valuesAt(track, tick)[at]!));
  };

  for (const { id, name, at } of level.visitors) {
    const track = tracks.visitors.get(id);
    (['x', 'y', 'z'] as const).forEach((axis, place) => {
      wave(
        'visitors',
        `${id} ${axis}`,
        `${name}.${axis}`,
        'real',
        track === undefined ? at[axis] : rounded(valuesAt(track, 0)[place]!),
      );
      follow(`${id} ${axis}`, track, place);
    });
    wave('visitors', `${id} inside`, `${name}.inside`, 'integer', 0);
  }
  for (const { id, name } of level.zones) wave('zones', `${id} inside`, `${name}.inside`, 'integer', 0);
  for (const fixture of level.fixtures) {
    const { id, name } = fixture;
    if (isMachine(fixture)) {
      const track = tracks.doors.get(id);
      wave('fixtures', `${id} clock`, `${name}.clock`, 'real', track === undefined ? 0 : rounded(valuesAt(track, 0)[0]!));
      follow(`${id} clock`, track, 0);
    }
    wave('fixtures', `${id} pressed`, `${name}.pressed`, 'wire', 0);
    for (const field of ['shown', 'enabled', 'solid', 'on'] as const) {
      const own = fixture as Partial<Record<typeof field, unknown>>;
      if (typeof own[field] === 'boolean') wave('fixtures', `${id} ${field}`, `${name}.${field}`, 'wire', Number(own[field]));
    }
  }
  for (const { id, name } of level.chains) wave('chains', `${id} running`, `${name}.running`, 'integer', 0);
  for (const { id, name, on } of level.flags) wave('facts', `${id} on`, name, 'wire', Number(on));
  for (const { id, name, value } of level.counters) wave('facts', `${id} value`, name, 'integer', value);

  for (const { kind, who, what, chain, step, tick, details } of ledger) {
    switch (kind) {
      case 'enter':
      case 'arrived-inside':
        add(`${what} inside`, tick, 1);
        add(`${who} inside`, tick, 1);
        break;
      case 'leave':
        add(`${what} inside`, tick, -1);
        add(`${who} inside`, tick, -1);
        break;
      case 'press':
      case 'release':
        set(`${what} pressed`, tick, Number(kind === 'press'));
        break;
      case 'on':
      case 'off':
        set(`${what} on`, tick, Number(kind === 'on'));
        break;
      case 'chain-started':
        add(`${chain} running`, tick, 1);
        break;
      case 'chain-finished':
      case 'gave-up':
        // A step that has waited too long gives up alone: the chain goes on.
        if (step === null) add(`${chain} running`, tick, -1);
        break;
      case 'changed': {
        const { field, to } = details as { field: string; to: unknown };
        if (typeof to === 'boolean' || typeof to === 'number') set(`${what} ${field}`, tick, Number(to));
        break;
      }
      default:
    }
  }
  return [...waves.values()];
}

function scoped(waves: readonly Wave[], line: (wave: Wave, at: number) => string): string[] {
  const lines: string[] = [];
  let scope = '';
  waves.forEach((wave, at) => {
    if (wave.scope !== scope) {
      if (scope !== '') lines.push('$upscope $end');
      lines.push(`$scope module ${wave.scope} $end`);
      scope = wave.scope;
    }
    lines.push(line(wave, at));
  });
  if (scope !== '') lines.push('$upscope $end');
  return lines;
}

/** The short name of a variable: of the 94 printable signs, the least first. */
function code(at: number): string {
  let text = '';
  for (let left = at + 1; left > 0; left = Math.floor((left - 1) / 94)) text = String.fromCharCode(33 + ((left - 1) % 94)) + text;
  return text;
}

function change({ type }: Wave, at: number, value: number): string {
  if (type === 'real') return `r${value} ${code(at)}`;
  if (type === 'integer') return `b${(value >>> 0).toString(2)} ${code(at)}`;
  return `${value}${code(at)}`;
}

/** A name that holds no blanks, and that no other in its scope has. */
function unique({ scope, name }: Wave, named: Set<string>): string {
  const own = plain(name)
    .trim()
    .replace(/\s+/g, '_')
    .replace(/[^\w.]/g, '_');
  const base = /^[A-Za-z_]/.test(own) ? own : `_${own}`;
  let text = base;
  for (let again = 2; named.has(`${scope} ${text}`); again++) text = `${base}_${again}`;
  named.add(`${scope} ${text}`);
  return text;
}

function plain(text: string): string {
  return text.replace(/[^\x20-\x7e]/g, '_').replaceAll('$', '_');
}

function rounded(value: number): number {
  return Math.round(value * 1e6) / 1e6 + 0;
}
