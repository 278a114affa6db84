import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { parseLevelText, rehearse, documentErrors } from '../src/index';
import type { Level } from '../src/index';
import { naiveRehearsal } from './naive/kernel';

const folder = join(__dirname, '../../../demo/examples');
const files = readdirSync(folder)
  .filter((file) => file.endsWith('.level.json'))
  .map((file) => file.replace('.level.json', ''));
const stories = files.filter((file) => !file.includes('.broken'));
/** `STORY.broken`, and where a story goes wrong in several ways `STORY.broken-WHY`. */
const brokenForms = files.filter((file) => file.includes('.broken'));
const storyOf = (form: string): string => form.slice(0, form.indexOf('.broken'));

function read(file: string): Level {
  const parsed = parseLevelText(readFileSync(join(folder, `${file}.level.json`), 'utf8'));
  if (!parsed.ok) throw new Error(`${file}: ${JSON.stringify(parsed.faults)}`);
  return parsed.level;
}

/** What a designer would see go wrong in each broken form: the expectations that it fails, and what they say. */
const failures: Record<string, string[]> = {
  'claimed-wall.broken': ['Alma comes through: it did not happen'],
  'clear-landing.broken': [
    'she enters the landing as soon as she is there: it did not happen after that',
    'and stands on it: inside("alma", "landing") = false',
  ],
  'door-both-sides.broken': [
    'the door opens for each way: it happened 1 time',
    'and closes by itself both times: it happened 1 time',
  ],
  'door-manners.broken': ['the mist veil opens: it did not happen', 'nothing goes past the message: it happened'],
  'elevator-called.broken': [
    'the lift comes up for each of them: it happened 1 time',
    'and it stands at the bottom in the end: stop("grain-lift") = 2',
  ],
  'elevator-reverse.broken': [
    'the hoist starts twice: down with her, up without: it happened 1 time',
    'it is down before she leaves it: the other way round',
  ],
  'elevator-rider.broken': [
    'the hoist starts twice: up with her, down without: it happened 1609 times',
    'it is up before she leaves it: the first did not happen',
    'it stands at the bottom again: stop("sack-hoist") = 0',
  ],
  'fast-cart.broken': ['no cart is missed: it happened', 'it was counted: counter("carts") = 0'],
  'general-trigger.broken': ['the goose lights nothing: it happened', 'Alma lights every lamp: it happened 2 times'],
  'guard.broken': ['he has spoken before she goes anywhere: the other way round', 'and nobody slips past: it happened'],
  'map-markers.broken': ['the weir comes up soon after she has stayed: it took 4 s'],
  'maze-walls.broken': ['nothing stands in her way: it happened', 'she comes out ahead: it did not happen'],
  'owner-door.broken': ['it does not open for Wim: it happened', 'and the ledger says why: it did not happen'],
  'portal-manners.broken': ['she does not skid on into the cellar: it happened'],
  'portal-twins.broken': [
    'Alma goes through twice: once there, once back: it happened 116 times',
    'there is a shimmer each time: it happened 116 times',
  ],
  'portal-pair.broken': [
    'Alma goes through twice: once there, once back: it happened 2314 times',
    'and is taken as inside of the far portal when she arrives: it did not happen',
  ],
  'raft.broken': ['she is on it: inside("alma", "on-the-raft") = false'],
  'room-warps.broken': [
    'three warps, one after the other: it happened 0 times',
    'nobody is left behind: it happened',
    'she is back in the yard: room("alma") = ""',
  ],
  'sack-plate.broken': ['and never closes: it happened', 'the sack alone keeps the plate down: pressed("sack-plate") = false'],
  'same-tick.broken': ['she is in the east: text("where") = "on the water"'],
  'sinking-gate.broken': ['nothing stops her: it happened'],
  'thrown-float.broken': ['and it is disarmed: flag("armed") = true'],
  'tokens.broken': ['none by the goose: it happened'],
  'two-guests.broken': ['one greeting: it happened 2 times', 'one farewell: it happened 2 times'],
  'watchman.broken': ['and nobody slips past him: it happened'],
  'watch-elsewhere.broken': ['the watch sees it: it did not happen', 'and the sluice opens: it did not happen'],
  'clear-landing.broken-mid-air': ['she enters the landing as soon as she is there: it took 0.783 s'],
  'clear-landing.broken-outside': [
    'she enters the landing as soon as she is there: it did not happen after that',
    'and stands on it: inside("alma", "landing") = false',
  ],
  'door-manners.broken-unheard': ['the mist veil opens: it did not happen'],
  'fast-cart.broken-silent': ['it was counted: counter("carts") = 0'],
  'general-trigger.broken-misspelt': [
    'Alma lights every lamp: it happened 2 times',
    'three lamps are lit: counter("lamps-lit") = 2',
  ],
  'owner-door.broken-no-limit': ['the plate shows the owner: text("name-plate") = "Wim"'],
  'portal-pair.broken-solid': [
    'Alma goes through twice: once there, once back: it happened 0 times',
    'and is taken as inside of the far portal when she arrives: it did not happen',
  ],
  'sinking-gate.broken-fixed': ['the gate opens: it did not happen', 'nothing stops her: it happened'],
  'sinking-gate.broken-no-target': ['the gate opens: it did not happen', 'nothing stops her: it happened'],
};

const outcome = (level: Level): string[] =>
  level.walks.flatMap((walk) =>
    rehearse(level, walk)
      .expectations.filter((one) => !one.passed)
      .map((one) => `${one.label}: ${one.because}`),
  );

it('has a broken form of every story, and knows how it fails', () => {
  expect(brokenForms.sort()).toEqual(Object.keys(failures).sort());
  expect([...new Set(brokenForms.map(storyOf))].sort()).toEqual([...stories].sort());
});

it('is listed in the studio, each with what it teaches and every broken twin', () => {
  const list = JSON.parse(readFileSync(join(__dirname, '../../../demo/examples.json'), 'utf8')) as {
    file: string;
    title: string;
    teaches: string;
    broken: { file: string; shows: string }[];
  }[];
  expect(list.map(({ file }) => file.replace('.level.json', '')).sort()).toEqual([...stories].sort());
  expect(list.flatMap(({ broken }) => broken.map(({ file }) => file.replace('.level.json', ''))).sort()).toEqual(
    [...brokenForms].sort(),
  );
  for (const { file, title, teaches, broken } of list) {
    expect([file, title]).toEqual([file, read(file.replace('.level.json', '')).name]);
    expect(teaches).not.toBe('');
    for (const twin of broken) expect(twin.file).toMatch(new RegExp(`^${file.replace('.level.json', '')}\\.broken`));
  }
});

describe.each(stories)('%s', (story) => {
  const level = read(story);

  it('does what its walk expects, and has nothing to mend', () => {
    expect(level.walks.flatMap((walk) => walk.expectations).length).toBeGreaterThanOrEqual(2);
    expect(outcome(level)).toEqual([]);
    expect(documentErrors(level)).toEqual([]);
  });

  it('is told the same by both kernels', () => {
    for (const walk of level.walks) expect(naiveRehearsal(level, walk)).toEqual(rehearse(level, walk).entries);
  });
});

describe.each(brokenForms)('%s', (form) => {
  const broken = read(form);

  it('fails the way a designer would see it fail', () => {
    expect(outcome(broken)).toEqual(failures[form]);
  });

  it('expects what the story expects', () => {
    expect(broken.walks).toEqual(read(storyOf(form)).walks);
  });

  it('is told the same by both kernels', () => {
    for (const walk of broken.walks) expect(naiveRehearsal(broken, walk)).toEqual(rehearse(broken, walk).entries);
  });
});
