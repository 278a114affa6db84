import { fixturesThatCan } from '../kinds/words';
import { isMachine, startsAs } from '../kinds/fixtures';
import type { Level } from '../document/level';
import { valuesAt } from '../ledger/tracks';
import type { Track, Tracks } from '../ledger/tracks';
import type { Ledger } from '../ledger/ledger';
import { roundTo } from '../vocabulary/rounding';

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
 * The states of a rehearsal over time as a value change dump (IEEE 1364-2005, clause 18): where visitors are, in whole millimetres (32
 * bits, two's complement: few readers know reals below nought), and how many zones and fixtures they are in, the clocks of what moves,
 * flags, counters and texts (for each visitor, where they are kept so), what is pressed, on, collected, shown, solid and enabled, and
 * how often each chain is running. A text is its number in the table that the comment at the top gives. Times are whole microseconds.
 * What has a name of its own in the level is called by it, with signs for what may not stand in a name there.
 */
export function statesVcd(level: Level, { rate, ticks, tracks, ledger }: Played): string {
  const { waves, texts } = wavesOf(level, { rate, ticks, tracks, ledger });
  const table = texts.map((text, number) => `${number} "${plain(text)}"`).join('\n  ');
  const named = new Set<string>();
  const lines = [
    `$comment ${plain(level.name)} $end`,
    ...(texts.length > 1 ? [`$comment Texts:\n  ${table}\n$end`] : []),
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

function wavesOf(level: Level, { ticks, tracks, ledger }: Played): { waves: Wave[]; texts: string[] } {
  const waves = new Map<string, Wave>();
  /** Every text that anything says, by its number; nothing is number 0. */
  const texts = new Map([['', 0]]);
  const numberOf = (text: string): number => {
    if (!texts.has(text)) texts.set(text, texts.size);
    return texts.get(text)!;
  };
  const valueOf = (value: unknown): number => (typeof value === 'string' ? numberOf(value) : Number(value));
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
  const follow = (id: string, track: Track | undefined, at: number, said: (value: number) => number): void => {
    if (track === undefined) return;
    for (let tick = 1; tick <= ticks; tick++) set(id, tick, said(valuesAt(track, tick)[at]!));
  };
  /** What a thing begins as, by the fields in which it may change. */
  const begins = new Map<string, Map<string, number>>();
  const state = (
    scope: string,
    id: string,
    name: string,
    fields: Record<string, boolean | string | number | undefined>,
  ): void => {
    const own = new Map<string, number>();
    for (const [field, first] of Object.entries(fields)) {
      if (first === undefined) continue;
      const value = valueOf(first);
      own.set(field, value);
      wave(scope, `${id} ${field}`, `${name}.${field}`, typeof first === 'boolean' ? 'wire' : 'integer', value);
    }
    begins.set(id, own);
  };
  /** What was reset is as it began, but for what it feels: who weighs on it is felt on. */
  const backToStart = (id: string, tick: number): void => {
    for (const [field, value] of begins.get(id) ?? []) if (field !== 'pressed') set(`${id} ${field}`, tick, value);
  };
  const collectibles: readonly string[] = fixturesThatCan('be collected');

  for (const { id, name, at } of level.visitors) {
    const track = tracks.visitors.get(id);
    (['x', 'y', 'z'] as const).forEach((axis, place) => {
      const first = track === undefined ? at[axis] : valuesAt(track, 0)[place]!;
      wave('visitors', `${id} ${axis}`, `${name}.${axis}_mm`, 'integer', millimetres(first));
      follow(`${id} ${axis}`, track, place, millimetres);
    });
    wave('visitors', `${id} inside`, `${name}.inside`, 'integer', 0);
  }
  for (const { id, name, enabled } of level.zones) {
    wave('zones', `${id} inside`, `${name}.inside`, 'integer', 0);
    state('zones', id, name, { enabled });
  }
  for (const fixture of level.fixtures) {
    const { id, name, kind, shown, enabled } = fixture;
    if (isMachine(fixture)) {
      const track = tracks.doors.get(id);
      wave('fixtures', `${id} clock`, `${name}.clock`, 'real', track === undefined ? 0 : roundTo(valuesAt(track, 0)[0]!, 6));
      follow(`${id} clock`, track, 0, (value) => roundTo(value, 6));
    }
    const { on, pressed, text } = startsAs(fixture);
    const solid = 'solid' in fixture ? fixture.solid : undefined;
    state('fixtures', id, name, {
      ...{ pressed, on, text, shown, enabled, solid },
      collected: collectibles.includes(kind) ? false : undefined,
    });
  }
  for (const { id, name, enabled } of level.chains) {
    wave('chains', `${id} running`, `${name}.running`, 'integer', 0);
    state('chains', id, name, { enabled });
  }
  const fact = (id: string, name: string, per: 'level' | 'visitor', field: string, first: boolean | number | string): void => {
    const type = typeof first === 'boolean' ? 'wire' : 'integer';
    if (per === 'level') wave('facts', `${id} ${field}`, name, type, valueOf(first));
    else
      for (const visitor of level.visitors)
        wave('facts', `${id} ${visitor.id} ${field}`, `${name}.${visitor.name}`, type, valueOf(first));
  };
  const keptForEach = new Set<string>();
  for (const { id, per } of [...level.flags, ...level.counters, ...level.texts]) if (per === 'visitor') keptForEach.add(id);
  for (const { id, name, per, on } of level.flags) fact(id, name, per, 'on', on);
  for (const { id, name, per, value } of level.counters) fact(id, name, per, 'value', value);
  for (const { id, name, per, value } of level.texts) fact(id, name, per, 'text', value);

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
      case 'collected':
        set(`${what} collected`, tick, 1);
        set(`${what} enabled`, tick, 0);
        break;
      case 'changed': {
        const { field, to } = details as { field: string; to: unknown };
        if (field === 'reset') backToStart(what!, tick);
        else if (field === 'started over')
          for (const { id, room } of [...level.zones, ...level.fixtures]) {
            if (room === what) backToStart(id, tick);
          }
        else set(keptForEach.has(what!) ? `${what} ${who} ${field}` : `${what} ${field}`, tick, valueOf(to));
        break;
      }
      default:
    }
  }
  return { waves: [...waves.values()], texts: [...texts.keys()] };
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

function millimetres(metres: number): number {
  return Math.round(metres * 1000) + 0;
}
