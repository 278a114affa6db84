import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { parseLevelText, rehearse, snagsOf } from '../src/index';
import type { Level } from '../src/index';
import { naiveRehearsal } from './naive/kernel';

const folder = join(__dirname, '../../../demo/examples');
const stories = readdirSync(folder)
  .filter((file) => file.endsWith('.level.json') && !file.includes('.broken.'))
  .map((file) => file.replace('.level.json', ''));

function read(file: string): Level {
  const parsed = parseLevelText(readFileSync(join(folder, `${file}.level.json`), 'utf8'));
  if (!parsed.ok) throw new Error(`${file}: ${JSON.stringify(parsed.faults)}`);
  return parsed.level;
}

/** What a designer would see go wrong in each broken form: the expectations that it fails, and what they say. */
const failures: Record<string, string[]> = {
  'clear-landing': [
    'she enters the landing as soon as she is there: it did not happen after that',
    'and stands on it: inside("alma", "landing") = false',
  ],
  'door-both-sides': ['the door opens for each way: it happened 1 time', 'and closes by itself both times: it happened 1 time'],
  'door-manners': ['the mist veil opens: it did not happen', 'nothing goes past the message: it happened'],
  'elevator-called': [
    'the lift comes up for each of them: it happened 1 time',
    'and it stands at the bottom in the end: stop("grain-lift") = 2',
  ],
  'elevator-rider': [
    'the hoist starts twice: up with her, down without: it happened 1609 times',
    'it is up before she leaves it: the first did not happen',
    'it stands at the bottom again: stop("sack-hoist") = 0',
  ],
  'fast-cart': ['no cart is missed: it happened', 'it was counted: counter("carts") = 0'],
  'general-trigger': ['the goose lights nothing: it happened', 'Alma lights every lamp: it happened 2 times'],
  guard: ['he has spoken before she goes anywhere: the other way round', 'and nobody slips past: it happened'],
  'map-markers': ['the weir comes up soon after she has stayed: it took 4 s'],
  'maze-walls': ['nothing stands in her way: it happened', 'she comes out ahead: it did not happen'],
  'owner-door': ['it does not open for Wim: it happened', 'and the ledger says why: it did not happen'],
  'portal-manners': ['she does not skid on into the cellar: it happened'],
  'portal-pair': [
    'Alma goes through twice: once there, once back: it happened 2314 times',
    'and is taken as inside of the far portal when she arrives: it did not happen',
  ],
  raft: ['she is on it: inside("alma", "on-the-raft") = false'],
  'room-warps': [
    'three warps, one after the other: it happened 0 times',
    'nobody is left behind: it happened',
    'she is back in the yard: room("alma") = ""',
  ],
  'sack-plate': ['and never closes: it happened', 'the sack alone keeps the plate down: pressed("sack-plate") = false'],
  'same-tick': ['she is in the east: text("where") = "on the water"'],
  'sinking-gate': ['nothing stops her: it happened'],
  'thrown-float': ['and it is disarmed: flag("armed") = true'],
  tokens: ['none by the goose: it happened'],
  'two-guests': ['one greeting: it happened 2 times', 'one farewell: it happened 2 times'],
  'watch-elsewhere': ['the watch sees it: it did not happen', 'and the sluice opens: it did not happen'],
};

const outcome = (level: Level): string[] =>
  level.walks.flatMap((walk) =>
    rehearse(level, walk)
      .expectations.filter((one) => !one.passed)
      .map((one) => `${one.label}: ${one.because}`),
  );

it('has a broken form of every story, and knows how it fails', () => {
  expect(stories).toEqual(Object.keys(failures).sort());
});

describe.each(stories)('%s', (story) => {
  const level = read(story);
  const broken = read(`${story}.broken`);

  it('does what its walk expects, and has nothing to mend', () => {
    expect(level.walks.flatMap((walk) => walk.expectations).length).toBeGreaterThanOrEqual(2);
    expect(outcome(level)).toEqual([]);
    expect(snagsOf(level)).toEqual([]);
  });

  it('fails in its broken form the way a designer would see it fail', () => {
    expect(outcome(broken)).toEqual(failures[story]);
  });

  it('differs from its broken form in a few fields only, and expects the same', () => {
    expect(broken.walks).toEqual(level.walks);
  });

  it('is told the same by both kernels', () => {
    for (const one of [level, broken])
      for (const walk of one.walks) expect(naiveRehearsal(one, walk)).toEqual(rehearse(one, walk).entries);
  });
});
