import { TestBed } from '@angular/core/testing';
import type { ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { createThing, describe as described, emptyLevel, levelShape, matrixOf, rehearse, stepPhrase } from '@nettlewick/core';
import type { Level, Slot } from '@nettlewick/core';
import { FindingsStore } from '../src/app/state/findings-store';
import { Tape } from '../src/app/state/tape';
import { LedgerQuery } from '../src/app/rehearse/ledger-query';
import { LedgerView } from '../src/app/rehearse/ledger-view';
import { Playback } from '../src/app/rehearse/playback';
import { LastViewedMoment } from '../src/app/editing/last-look';
import { RehearsalStore } from '../src/app/rehearse/rehearsal-store';
import { AnalysisStore } from '../src/app/rehearse/studies';
import { RevealedFields } from '../src/app/sentence/revealed-fields';
import { ConditionEditor } from '../src/app/sentence/condition-editor';
import { NameField } from '../src/app/sentence/name-field';
import { Picking } from '../src/app/sentence/picking';
import { Value } from '../src/app/sentence/value';
import { Editor } from '../src/app/state/editor';
import { ThingFactory } from '../src/app/sentence/made';
import { Views } from '../src/app/editing/views';
import { Rooms } from '../src/app/state/rooms';
import { Tags } from '../src/app/state/tags';
import { OverviewTable } from '../src/app/overview/overview-table';
import { ChainLayout } from '../src/app/editing/bands';
import { ChainBand } from '../src/app/wire/chain-band';
import { openStore } from './opened';

// What is our own of the controls, each by itself: a value in a sentence, a chain as a band, the ledger.

jest.mock('../src/app/workers/start', () => ({
  workerFor: () => ({ ask: () => Promise.reject(new Error('Nobody walks here')), end: () => undefined }),
}));

const empty = emptyLevel('Yard');
const at = (x: number) => ({ x, y: 0, z: 0 });
const gate = createThing(empty, 'door', 'gate', 'room-1', at(6));
const yard: Level = levelShape.parse({
  ...empty,
  zones: [createThing(empty, 'zone', 'step', 'room-1', at(3))],
  fixtures: [gate],
  visitors: [createThing(empty, 'player', 'miller', 'room-1', at(0))],
  chains: [
    {
      id: 'opens',
      name: 'The step opens the gate',
      causes: [
        { id: 'c1', on: 'enter', of: 'step' },
        { id: 'c2', on: 'enter', of: 'step', filter: { kinds: ['creature'] } },
      ],
      steps: [{ id: 's1', kind: 'open', door: 'gate' }],
    },
  ],
  walks: [
    {
      id: 'w',
      name: 'To and fro',
      routes: [
        {
          visitor: 'miller',
          instructions: Array.from({ length: 12 }, (_, i) => ({ id: `g${i}`, do: 'go-to', to: at(i % 2 === 0 ? 3 : 0) })),
        },
      ],
    },
  ],
});

function shown<T>(
  component: new (...all: never[]) => T,
  inputs: Record<string, unknown>,
): ComponentFixture<T> & { editor: Editor } {
  const snags = { about: () => [], isTried: () => true };
  TestBed.configureTestingModule({
    providers: [
      ...[
        ChainLayout,
        Editor,
        Rooms,
        ThingFactory,
        Tags,
        RevealedFields,
        Picking,
        Tape,
        Views,
        LastViewedMoment,
        RehearsalStore,
        Playback,
        AnalysisStore,
        LedgerQuery,
      ],
      { provide: FindingsStore, useValue: snags },
      provideRouter([]),
    ],
  });
  openStore(yard);
  const fixture = TestBed.createComponent(component as never) as ComponentFixture<T>;
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  fixture.detectChanges();
  return Object.assign(fixture, { editor: TestBed.inject(Editor) });
}

const part = <E extends Element>({ nativeElement }: ComponentFixture<unknown>, css: string): E => {
  const found = (nativeElement as Element).querySelector<E>(css);
  if (found === null) throw new Error(`Nothing is like ${css} in ${(nativeElement as Element).innerHTML.slice(0, 2000)}`);
  return found;
};
const textOf = ({ nativeElement }: ComponentFixture<unknown>): string =>
  ((nativeElement as Element).textContent ?? '').replace(/\s+/g, ' ').trim();

describe('A value in a sentence', () => {
  const slotOf = (path: string): Slot => {
    for (const phrase of described('fixtures', gate))
      for (const piece of phrase) if (typeof piece !== 'string' && piece.path === path) return piece;
    throw new Error(`The gate says nothing of ${path}`);
  };
  const seconds = (editor: Editor): unknown => (editor.find('gate')!.thing as { timing?: { seconds?: number } }).timing?.seconds;
  const type = (fixture: ComponentFixture<unknown>, text: string, key = 'Enter'): void => {
    const field = part<HTMLInputElement>(fixture, 'input');
    field.value = text;
    field.dispatchEvent(new Event('input', { bubbles: true }));
    field.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
    fixture.detectChanges();
  };
  const begun = () => {
    const fixture = shown(Value, { slot: slotOf('/timing/seconds'), thing: 'gate' });
    part<HTMLButtonElement>(fixture, 'button.value').click();
    fixture.detectChanges();
    return fixture;
  };

  it('says what it is, and is typed where it stands, as people type', () => {
    const fixture = begun();
    type(fixture, '2,5 s');
    expect(seconds(fixture.editor)).toBe(2.5);
    expect(part<HTMLButtonElement>(fixture, 'button.value').getAttribute('aria-label')).toMatch(/Edit$/);
  });

  it('that is wrong stays in hand, with the reason, and nothing is changed', () => {
    const fixture = begun();
    const before = seconds(fixture.editor);
    type(fixture, 'soon');
    expect(part(fixture, '[role=alert], .wrong').textContent).toMatch(/number/i);
    expect(part<HTMLInputElement>(fixture, 'input').value).toBe('soon');
    type(fixture, 'soon', 'Escape');
    expect(seconds(fixture.editor)).toBe(before);
    part(fixture, 'button.value');
  });

  describe('that says on whom a step acts', () => {
    const step = { id: 's1', kind: 'hold-visitor', who: { by: 'cause' }, start: 'after', delay: 0 };
    const level = levelShape.parse({ ...yard, chains: [{ ...yard.chains[0]!, steps: [step] }] });
    const chain = level.chains[0]!;
    const begun = (): ReturnType<typeof shown<Value>> => {
      const slot = stepPhrase(chain.steps[0]!).find((piece) => typeof piece !== 'string' && piece.path === '/who') as Slot;
      const fixture = shown(Value, { slot, thing: chain.id, prefix: '/steps/0' });
      openStore(level);
      fixture.detectChanges();
      part<HTMLButtonElement>(fixture, 'button.value').click();
      fixture.detectChanges();
      return fixture;
    };
    const who = (editor: Editor): unknown => (editor.find(chain.id)!.thing as { steps: { who: unknown }[] }).steps[0]!.who;
    const miller = level.visitors[0]!;

    it('is chosen by name from the list at once', async () => {
      const fixture = begun();
      await fixture.whenStable();
      const lines = [...document.querySelectorAll<HTMLElement>('nz-option-item')];
      expect(lines.map((line) => line.textContent!.trim())).toEqual(
        expect.arrayContaining(['the triggering visitor', miller.name]),
      );
      lines.find((line) => line.textContent!.trim() === miller.name)!.click();
      expect(who(fixture.editor)).toEqual({ by: 'name', visitor: miller.id });
    });

    it('is pressed where it stands, and what is no visitor is not taken', () => {
      const fixture = begun();
      const picking = TestBed.inject(Picking);
      const at = { x: 0, y: 0 };
      picking.give({ thing: 'gate', at, room: 'room-1' });
      expect(who(fixture.editor)).toEqual({ by: 'cause' });
      picking.give({ thing: miller.id, at, room: 'room-1' });
      expect(who(fixture.editor)).toEqual({ by: 'name', visitor: miller.id });
    });
  });
});

it('A name that is easily taken for another is questioned where it is given, and stays', () => {
  const fixture = shown(NameField, { thing: 'gate', name: gate.name });
  const field = part<HTMLInputElement>(fixture, 'input');
  const give = (text: string): void => {
    field.value = text;
    field.dispatchEvent(new Event('input', { bubbles: true }));
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    fixture.detectChanges();
  };
  give(`${yard.zones[0]!.name}s`);
  expect(part(fixture, '.alike').textContent).toContain(`Similar to “${yard.zones[0]!.name}”`);
  expect(fixture.editor.find('gate')!.thing.name).toBe(`${yard.zones[0]!.name}s`);
  give('Weir');
  expect(textOf(fixture)).toBe('');
});

it('A step that walks somebody is drawn as long as it took when it was rehearsed last, and says so', () => {
  const to = { x: 3, y: 4, z: 0, room: '', of: '', axes: 'room', height: 'datum' };
  const steps = [{ id: 's1', kind: 'walk-visitor', who: { by: 'cause' }, to, start: 'after', delay: 0 }];
  const level = levelShape.parse({ ...yard, chains: [{ ...yard.chains[0]!, steps }] });
  const fixture = shown(ChainBand, { chain: level.chains[0]!, at: 0 });
  expect(part(fixture, '.when').textContent).toBe('at 0 s');
  TestBed.inject(LastViewedMoment).keep(rehearse(level, level.walks[0]!), 0);
  fixture.detectChanges();
  expect(part(fixture, '.when').textContent).toMatch(/^0 to \d[\d.]* s, as rehearsed$/);
  part(fixture, '.block.rehearsed');
});

it('Chains are laid out by trigger or by room, folded to a line each, and each is found again', () => {
  const { editor } = shown(ChainBand, { chain: yard.chains[0]!, at: 0 });
  const bands = TestBed.inject(ChainLayout);
  const level = editor.level();
  const placed = level.chains.map((chain, at) => ({ chain, at }));
  const lone = { chain: { ...placed[0]!.chain, id: 'lone', causes: [] }, at: 1 };
  expect(bands.sheaves([...placed, lone]).map(({ chains }) => chains.length)).toEqual([2]);
  bands.layOut('source');
  expect(bands.sheaves([...placed, lone]).map(({ title, chains }) => [title, chains.length])).toEqual([
    [yard.zones[0]!.name, 1],
    ['No cause yet', 1],
  ]);
  bands.shutOne('step');
  bands.foldAll();
  expect([bands.allFolded(), bands.shut().has('step')]).toEqual([true, true]);
  bands.unfold('opens');
  expect([bands.folded().has('opens'), bands.shut().has('step')]).toEqual([false, false]);
  bands.layOut('room');
  expect(bands.sheaves(placed).map(({ title }) => title)).toEqual([level.rooms[0]!.name]);
});

describe('The table of what sets off what', () => {
  const matrix = matrixOf(yard, new Map());
  const row = matrix.rows[0]!;
  const many = { ...matrix, rows: Array.from({ length: 95 }, (_, i) => ({ ...row, from: i === 90 ? 'step' : `gone-${i}` })) };
  const namesOf = ({ nativeElement }: ComponentFixture<unknown>): (string | undefined)[] =>
    [...(nativeElement as Element).querySelectorAll('tbody th')].map((one) => one.textContent?.trim());

  it('says what is done by which event and in which order, and leads to the chain', () => {
    const fixture = shown(OverviewTable, { matrix, shows: 'wiring' });
    const asked: string[] = [];
    (fixture.componentInstance as OverviewTable).asked.subscribe(({ act }) => asked.push(act.chain));
    const act = part<HTMLButtonElement>(fixture, 'td button');
    expect(act.getAttribute('aria-label')).toMatch(/^1 open : .* on enter: open .*, step 1 of “The step opens the gate”/);
    act.click();
    expect(asked).toEqual(['opens']);
  });

  it('shows a part of many rows, says which, goes on to the others, and finds one among all', () => {
    const fixture = shown(OverviewTable, { matrix: many, shows: 'runs' });
    expect([namesOf(fixture).length, textOf(fixture)]).toEqual([40, expect.stringContaining('rows 1–40 of 95')]);
    const goOn = (): void => {
      part<HTMLButtonElement>(fixture, '[aria-label="Next rows"]').click();
      fixture.detectChanges();
    };
    goOn();
    goOn();
    expect(textOf(fixture)).toContain('rows 81–95 of 95');
    expect(namesOf(fixture)).toContain(yard.zones[0]!.name);
    const field = part<HTMLInputElement>(fixture, 'input');
    field.value = yard.zones[0]!.name.toUpperCase();
    field.dispatchEvent(new Event('input'));
    fixture.detectChanges();
    expect(namesOf(fixture)).toEqual([yard.zones[0]!.name]);
  });
});

it('A name that was just given stays when Escape follows at once, and one that was only begun goes', () => {
  const fixture = shown(NameField, { thing: 'gate', name: gate.name });
  const field = part<HTMLInputElement>(fixture, 'input');
  const type = (text: string, ...keys: string[]): void => {
    field.focus();
    field.value = text;
    field.dispatchEvent(new Event('input', { bubbles: true }));
    for (const key of keys) field.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  };
  document.body.append(fixture.nativeElement as Element);
  type('Sluice', 'Enter', 'Escape');
  expect(fixture.editor.nameOf('gate')).toBe('Sluice');
  type('Never meant', 'Escape');
  expect([fixture.editor.nameOf('gate'), field.value]).toEqual(['Sluice', 'Sluice']);
});

describe('A chain as a band', () => {
  const band = () => shown(ChainBand, { chain: yard.chains[0]!, at: 0 });

  it('reads as sentences: what sets it off, by whom where that is said, and what it does', () => {
    const text = textOf(band());
    expect(text).toMatch(/When .*enters step|enters zone/i);
    expect(text).toContain('creature');
    expect(text).toMatch(/open/i);
  });

  it('is switched off, and loses a cause, as edits that can be undone', () => {
    const fixture = band();
    const { editor } = fixture;
    [...(fixture.nativeElement as Element).querySelectorAll('button')].find((one) => one.textContent?.trim() === 'on')!.click();
    expect(editor.level().chains[0]!.enabled).toBe(false);
    fixture.componentRef.setInput('chain', editor.level().chains[0]);
    fixture.detectChanges();
    expect(textOf(fixture)).toContain('switched off');
    part<HTMLButtonElement>(fixture, '[aria-label="Remove this cause"]').click();
    expect(editor.level().chains[0]!.causes.map(({ id }) => id)).toEqual(['c2']);
    editor.undo();
    editor.undo();
    expect(editor.level()).toEqual(yard);
  });
});

describe('A condition that is typed', () => {
  it('goes on with what fits the text as it stands, even where keys come faster than the page is rendered', () => {
    const fixture = shown(ConditionEditor, { text: '', label: 'Condition', path: '/guard' });
    fixture.componentInstance['typing'].set(true);
    fixture.detectChanges();
    const field = part<HTMLInputElement>(fixture, 'input');
    field.dispatchEvent(new Event('focus'));
    const type = (text: string): void => {
      field.value = text;
      field.dispatchEvent(new Event('input'));
      field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Tab', bubbles: true, cancelable: true }));
    };
    const zone = yard.zones[0]!.name;
    type(`inside(hand(), "${zone.slice(0, 2)}`);
    expect(field.value).toBe(`inside(hand(), "${zone}"`);
    type('inPl');
    expect(field.value).toBe('inPlay("');
  });
});

describe('The ledger', () => {
  const ledger = async () => {
    const fixture = shown(LedgerView, { walk: yard.walks[0]! });
    await fixture.whenStable();
    while (TestBed.inject(RehearsalStore).busy()) await Promise.resolve();
    TestBed.inject(RehearsalStore).walkLive(rehearse(yard, yard.walks[0]!));
    fixture.detectChanges();
    return fixture;
  };
  const lines = ({ componentInstance }: ComponentFixture<LedgerView>) => componentInstance['lines']();

  it('lists what happened in its order, folds what comes again, and unfolds it', async () => {
    const fixture = await ledger();
    const entries = TestBed.inject(Playback).entries();
    const folded = lines(fixture).length;
    expect(folded).toBeLessThan(entries.length);
    fixture.componentInstance['folds'].set(false);
    fixture.detectChanges();
    expect(lines(fixture)).toEqual(entries);
  });

  it('shows only what is asked for, and says so where that is nothing', async () => {
    const fixture = await ledger();
    TestBed.inject(LedgerQuery).ask({ text: 'is open' });
    fixture.detectChanges();
    expect(lines(fixture).length).toBeGreaterThan(0);
    expect(lines(fixture).every((line) => !('again' in line) && line.kind === 'opened')).toBe(true);
    TestBed.inject(LedgerQuery).ask({ text: 'a heron' });
    fixture.detectChanges();
    expect(textOf(fixture)).toContain('No entries match the filter.');
  });

  it('leaves out what was held when one does not want to see it', async () => {
    const fixture = await ledger();
    const held = TestBed.inject(Playback)
      .entries()
      .filter(({ kind }) => kind === 'held').length;
    expect(held).toBeGreaterThan(0);
    fixture.componentInstance.toggleHeld();
    fixture.componentInstance['folds'].set(false);
    fixture.detectChanges();
    expect(lines(fixture)).toHaveLength(TestBed.inject(Playback).entries().length - held);
  });
});
