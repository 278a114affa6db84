import { alignments, fixtureNames, kindOfFixture, setPieces, variantsOf } from '@nettlewick/core';
import type { Alignment, Stencil } from '@nettlewick/core';
import type { ViewName } from './views';

/** What a designer can do, wherever it is offered: by a key, a button, the help or the list of commands. */
export interface Command {
  /** What it does, as an order. */
  name: string;
  /** Other words by which it is looked for. */
  also?: string;
  /** The keys that do it: "Ctrl+Z", "Shift+R", "ArrowLeft". */
  keys: readonly string[];
  /** Where it can be done. */
  place: ViewName | 'walking' | 'everywhere';
  /** Only by its keys: for whoever reads a list there is nothing to choose. */
  keysOnly?: true;
}

/** What can be drawn, in the order of the stencils. */
export const stencils: readonly { name: Exclude<Stencil, 'room'>; word: string; also: string; key: string | null }[] = [
  { name: 'zone', word: 'Zone', also: 'trigger volume area', key: 'z' },
  ...fixtureNames.map((name) => {
    const { key, firstName, also } = kindOfFixture(name);
    return { name, word: firstName, also, key: key ?? null };
  }),
  { name: 'solid', word: 'Solid', also: 'box obstacle floor', key: 'b' },
  { name: 'wall', word: 'Wall', also: 'line', key: 'w' },
  { name: 'player', word: 'Player', also: 'visitor hero', key: 'y' },
  { name: 'creature', word: 'Creature', also: 'visitor guard enemy animal', key: 'c' },
  { name: 'prop', word: 'Prop', also: 'crate weight loose thing', key: 'x' },
];

const everywhere = {
  'find-command': { name: 'Find a command or a thing', keys: ['Ctrl+K'] },
  help: { name: 'Show the keys', keys: ['?', 'Shift+?'] },
  undo: { name: 'Undo', keys: ['Ctrl+Z'] },
  redo: { name: 'Redo', keys: ['Ctrl+Y', 'Ctrl+Shift+Z'] },
  save: { name: 'Save now', keys: ['Ctrl+S'] },
  'go-draw': { name: 'Go to draw', keys: ['1'] },
  'go-wire': { name: 'Go to wire', keys: ['2'] },
  'go-rehearse': { name: 'Go to rehearse', keys: ['3'] },
  'go-check': { name: 'Go to check', keys: ['4'] },
  history: { name: 'Show the history of the level', keys: [] },
  export: { name: 'Export the level as a file', keys: [] },
  theme: { name: 'Switch between light and dark theme', keys: [] },
} satisfies Record<string, Pick<Command, 'name' | 'keys'>>;

/** What each alignment is called. */
export const alignmentWords: Record<Alignment, string> = {
  west: 'west edges',
  middle: 'middles, west to east',
  east: 'east edges',
  south: 'south edges',
  centre: 'middles, south to north',
  north: 'north edges',
  base: 'bases',
  top: 'tops',
};

const draw = {
  nudge: {
    name: 'Move what is selected by one snap, with Shift by ten; with nothing selected, pan',
    keys: ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'].flatMap((key) => [key, `Shift+${key}`]),
    keysOnly: true,
  },
  'next-thing': { name: 'Select the next or previous thing', keys: ['.', ','], keysOnly: true },
  'place-armed': { name: 'Place what is to be drawn in the middle of the view', keys: ['Enter'], keysOnly: true },
  'set-pieces': { name: 'Place a set piece', keys: ['S'] },
  measure: { name: 'Toggle the measuring tape', keys: ['T'] },
  section: { name: 'Show or hide the section', keys: ['V'] },
  'section-alone': { name: 'Maximise or restore the section', keys: ['Shift+V'] },
  'cut-on': { name: 'Move the section line forward', keys: ['Alt+ArrowUp'] },
  'cut-back': { name: 'Take the section one snap further back', keys: ['Alt+ArrowDown'] },
  'all-open': { name: 'Show end positions or start state', keys: ['Shift+O'] },
  'at-moment': { name: 'Show a moment of the last rehearsal, or the start state', keys: ['Shift+M'] },
  hide: { name: 'Hide selection', keys: ['Shift+H'] },
  lock: { name: 'Lock selection (clicks pass through)', keys: ['Shift+L'] },
  lift: { name: 'Show and unlock everything again', keys: ['Alt+H'] },
  raise: { name: 'Raise by one snap', keys: ['PageUp'] },
  lower: { name: 'Lower by one snap', keys: ['PageDown'] },
  turn: { name: 'Turn by 15°', keys: ['R'] },
  'turn-back': { name: 'Turn back by 15°', keys: ['Shift+R'] },
  duplicate: { name: 'Duplicate', keys: ['Ctrl+D'] },
  'duplicate-wired': { name: 'Duplicate with its wiring', keys: ['Ctrl+Shift+D'] },
  ...Object.fromEntries(
    alignments.map((how) => [`align-${how}`, { name: `Align ${alignmentWords[how]}`, keys: [] as string[] }]),
  ),
  'spread-x': { name: 'Same gaps from west to east', keys: [] },
  'spread-y': { name: 'Same gaps from south to north', keys: [] },
  group: { name: 'Group', keys: ['Ctrl+G'] },
  ungroup: { name: 'Ungroup', keys: ['Ctrl+Shift+G'] },
  centre: { name: 'Centre the zone on its fixture', keys: ['Shift+C'] },
  cover: { name: 'Resize the zone to cover its fixture', keys: ['Shift+G'] },
  attach: { name: 'Attach the zone to its fixture', keys: ['Shift+A'] },
  copy: { name: 'Copy with its wiring', keys: ['Ctrl+C'] },
  paste: { name: 'Paste', keys: ['Ctrl+V'] },
  delete: { name: 'Delete', keys: ['Delete', 'Backspace'] },
  'let-go': { name: 'Cancel or deselect', keys: ['Escape'], keysOnly: true },
  fit: { name: 'Show the whole room', keys: ['F'] },
  'zoom-in': { name: 'Zoom in', keys: ['+', '=', 'Shift++'] },
  'zoom-out': { name: 'Zoom out', keys: ['-'] },
} satisfies Record<string, Omit<Command, 'place'>>;

const wire = {
  'new-chain': { name: 'Make a new chain for what is selected', keys: ['N'] },
  fold: { name: 'Collapse or expand the chain', keys: ['F'] },
  'fold-all': { name: 'Fold all chains, or open them', keys: ['Shift+F'] },
  overview: { name: 'Switch between table and bands', also: 'overview matrix', keys: ['T'] },
  text: { name: 'Switch between text and bands', also: 'type write language', keys: ['Shift+T'] },
} satisfies Record<string, Omit<Command, 'place'>>;

const rehearse = {
  'walk-it': { name: 'Walk it yourself', keys: ['W'] },
  play: { name: 'Play or pause', keys: [' '] },
  'tick-back': { name: 'One tick back', keys: ['ArrowLeft'] },
  'tick-on': { name: 'One tick on', keys: ['ArrowRight'] },
  'second-back': { name: 'Sixty ticks back', keys: ['Shift+ArrowLeft'] },
  'second-on': { name: 'Forward 60 ticks', keys: ['Shift+ArrowRight'] },
  'entry-before': { name: 'Previous entry', keys: ['ArrowUp'] },
  'entry-next': { name: 'The next entry', keys: ['ArrowDown'] },
  'to-start': { name: 'To the start', keys: ['Home'] },
  'to-end': { name: 'To the end', keys: ['End'] },
  lanes: { name: 'Show or fold the lanes', keys: ['L'] },
  side: { name: 'Show or hide the section', keys: ['V'] },
  held: { name: 'Show or hide what was held', keys: ['H'] },
  everything: { name: 'Show all entries again', keys: ['Escape'] },
} satisfies Record<string, Omit<Command, 'place'>>;

/** While a visitor is walked by hand, these go before those of the place. */
const walking = {
  'walk-on': { name: 'Pause or resume', keys: [' '], keysOnly: true },
  go: {
    name: 'Walk while held',
    keys: ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'A', 'D', 'W', 'S'],
    keysOnly: true,
  },
  'use-it': { name: 'Use the nearest thing', keys: ['E'], keysOnly: true },
  'carry-it': { name: 'Pick up what is nearest, or put it down', keys: ['Q'], keysOnly: true },
  'throw-it': { name: 'Throw what is carried', keys: ['T'], keysOnly: true },
  'keep-walk': { name: 'Save the live walk', keys: ['K'] },
} satisfies Record<string, Omit<Command, 'place'>>;

export type CommandId =
  | keyof typeof everywhere
  | keyof typeof draw
  | keyof typeof wire
  | keyof typeof rehearse
  | keyof typeof walking
  | `place-${string}`
  | `align-${Alignment}`
  | `draw-${(typeof stencils)[number]['name']}`
  | `draw-${(typeof stencils)[number]['name']}-${string}`;

/** Every command there is: the one table that keys, help, tooltips and the list of commands are read from. */
export const commandTable: ReadonlyMap<CommandId, Command> = new Map<CommandId, Command>([
  ...placed(everywhere, 'everywhere'),
  ...placed(draw, 'draw'),
  ...stencils.map(({ name, word, also, key }): [CommandId, Command] => [
    `draw-${name}`,
    { name: `Draw: ${word.toLowerCase()}`, also, keys: key === null ? [] : [key.toUpperCase()], place: 'draw' },
  ]),
  // The usual way of each is the command before.
  ...stencils.flatMap(({ name, word }) =>
    variantsOf(name)
      .slice(1)
      .map(({ id, says }): [CommandId, Command] => [
        `draw-${name}-${id}`,
        { name: `Draw: ${word.toLowerCase()} ${says}`, keys: [], place: 'draw' },
      ]),
  ),
  ...setPieces.map(({ id, title }): [CommandId, Command] => [
    `place-${id}`,
    { name: `Place: ${title[0]!.toLowerCase()}${title.slice(1)}`, keys: [], place: 'draw' },
  ]),
  ...placed(wire, 'wire'),
  ...placed(rehearse, 'rehearse'),
  ...placed(walking, 'walking'),
]);

function placed(commands: Record<string, Omit<Command, 'place'>>, place: Command['place']): [CommandId, Command][] {
  return Object.entries(commands).map(([id, command]) => [id as CommandId, { ...command, place }]);
}

/** The key of an event as the table writes it. */
export function shortcutOf({ key, ctrlKey, metaKey, altKey, shiftKey }: KeyboardEvent): string {
  const own = key.length === 1 ? key.toUpperCase() : key;
  return `${ctrlKey || metaKey ? 'Ctrl+' : ''}${altKey ? 'Alt+' : ''}${shiftKey ? 'Shift+' : ''}${own}`;
}

const signs: Record<string, string> = {
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  ' ': 'space',
  Escape: 'Esc',
};

/** A key as people read it: "Ctrl Z", "Shift ←". */
export function keyText(key: string): string {
  const own = key.match(/^((?:Ctrl\+|Alt\+|Shift\+)*)(.+)$/s)!;
  return `${own[1]!.replaceAll('+', ' ')}${signs[own[2]!] ?? own[2]!}`;
}
