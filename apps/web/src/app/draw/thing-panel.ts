import { TitleCasePipe } from '@angular/common';
import { CdkMenu, CdkMenuItem, CdkMenuTrigger } from '@angular/cdk/menu';
import { ChangeDetectionStrategy, Component, ElementRef, computed, effect, inject, output, signal } from '@angular/core';
import { Router } from '@angular/router';
import {
  arrivalsFrom,
  collectionWord,
  collections,
  connections,
  createFact,
  createThing,
  describeLevel,
  kindOfCause,
  eventsOf,
  factCollection,
  kindOfFixture,
  offersOf,
  paragraphs,
  referencesOf,
  servedBy,
  setOff,
  sharedSlots,
  spoken,
  waysToSetOff,
  wordOf,
  createCause,
  createChain,
} from '@nettlewick/core';
import type { Alignment, CauseEvent, Collection, StateKind, Fixture, Stencil, Thing, Zone } from '@nettlewick/core';
import { FindingNotes } from '../editing/finding-notes';
import { RevealedFields } from '../sentence/revealed-fields';
import { MoreMenu } from '../sentence/more-menu';
import { NameField } from '../sentence/name-field';
import { Sentence } from '../sentence/sentence';
import { alignmentWords } from '../editing/command-table';
import { Commands } from '../editing/commands';
import { Editor, THE_LEVEL, THE_SELECTION } from '../state/editor';
import { NextStep } from '../editing/next-step';
import { Views } from '../editing/views';
import { Rooms } from '../state/rooms';
import { Slider } from '../controls/slider';
import { MotionPreview } from './scrub';
import { ConnectionList } from '../editing/connection-list';
import { Tip } from '../controls/tip';

interface Line {
  id: string;
  name: string;
  word: string;
}

const shownAtMost = 300;
const CONNECTED = 'connected to ';

/** The sheet beside the plan: the selected thing in sentences, or the index of everything in the level. */
@Component({
  selector: 'nw-thing-panel',
  imports: [
    Tip,
    CdkMenu,
    CdkMenuItem,
    CdkMenuTrigger,
    ConnectionList,
    FindingNotes,
    MoreMenu,
    NameField,
    Sentence,
    Slider,
    TitleCasePipe,
  ],
  templateUrl: './thing-panel.html',
  styleUrl: './thing-panel.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ThingPanel {
  readonly revealed = output<string>();
  protected readonly editor = inject(Editor);
  /** That the set pieces are asked for, or a stencil is. */
  readonly pieces = output();
  readonly take = output<Stencil>();
  protected readonly next = inject(NextStep).now;
  protected readonly rooms = inject(Rooms);
  protected readonly scrub = inject(MotionPreview);
  private readonly asked = inject(RevealedFields);
  private readonly router = inject(Router);
  private readonly places = inject(Views);
  protected readonly facts = Object.keys(factCollection) as StateKind[];
  protected readonly theLevel = THE_LEVEL;
  protected readonly theSelection = THE_SELECTION;
  protected readonly commands = inject(Commands);
  protected readonly fits = ['centre', 'cover', 'attach'] as const;
  protected readonly fitWords = { centre: 'Centre on it', cover: 'Resize to cover it', attach: 'Attach to it' };
  /** What a zone in hand serves, by name. */
  protected readonly serves = computed(() => {
    const one = this.one();
    if (one?.collection !== 'zones') return null;
    return servedBy(this.editor.level(), one.thing as Zone)?.name.trim() ?? null;
  });
  protected readonly inLine = [
    { label: 'Align south to north', ways: waysOf('west', 'middle', 'east') },
    { label: 'In line from west to east', ways: waysOf('south', 'centre', 'north') },
    { label: 'At the same height', ways: waysOf('base', 'top') },
  ];
  protected readonly spreads = [
    { id: 'spread-x', says: 'Equal gaps, west to east' },
    { id: 'spread-y', says: 'same gaps, south to north' },
  ] as const;
  /** What several things in hand have in common, to be given to all at once. */
  protected readonly shared = computed(() => (this.editor.selected().length > 1 ? sharedSlots(this.editor.selected()) : []));
  /** Whether what is in hand is of one group. */
  protected readonly isGroup = computed(() => {
    const groups = new Set(this.editor.selected().map(({ thing }) => ('group' in thing ? (thing.group ?? '') : '')));
    return groups.size === 1 && !groups.has('');
  });
  protected readonly levelPhrases = computed(() => describeLevel(this.editor.level()));
  protected readonly wanted = signal('');
  protected readonly one = computed(() => (this.editor.selected().length === 1 ? this.editor.selected()[0]! : null));
  /** What is said of it: what matters first, the rest folded into one line each. */
  protected readonly paragraphs = computed(() => {
    const one = this.one();
    if (one === null) return [];
    const asked = this.asked.any() ? this.asked.within(one.thing.id) : new Set<string>();
    return paragraphs(one.collection, one.thing, asked).map(({ about, phrases }, at) => ({
      key: one.thing.id + about,
      about,
      phrases,
      folds: at > 0 && about !== 'Shape and position',
      // What was asked for is to be seen.
      open: phrases.some((phrase) => phrase.some((part) => typeof part !== 'string' && asked.has(part.path))),
      brief: phrases.map((phrase) => spoken(phrase, (id) => this.editor.nameOf(id))).join(' '),
    }));
  });
  /** The other sheets on which whoever enters the thing in hand comes out; its own, where another lies on the board. */
  protected readonly otherEnds = computed(() => {
    const one = this.one();
    if (one === null) return [];
    const own = (one.thing as { room?: string }).room;
    const found = arrivalsFrom(this.editor.level(), one.collection, one.thing).map(({ room }) => room);
    return [...new Set([...(own === undefined ? [] : [own]), ...found])]
      .filter((room) => room !== this.rooms.current())
      .map((room) => ({
        room,
        says: `${room === own ? 'back to where it stands' : 'Show destination'}: ${this.editor.nameOf(room)}`,
      }));
  });
  protected readonly offers = computed(() => {
    const one = this.one();
    return one === null ? [] : offersOf(one.collection, one.thing);
  });
  /** The number of events offered as buttons; the others are in a list. */
  protected readonly shownEvents = 4;
  /** What can happen at the thing in hand: each begins a chain. */
  protected readonly events = computed(() => {
    const one = this.one();
    if (one === null || one.collection === 'chains') return [];
    return eventsOf(one.word).map((event) => {
      const { saidOf, verb } = kindOfCause(event);
      return { event, says: saidOf === 'visitor' ? `somebody ${verb} it` : `it ${verb}` };
    });
  });
  protected readonly word = computed(() => {
    const one = this.one();
    return one === null ? '' : longWord(one.collection, one.thing);
  });
  /** By its id alone: a thing that is being dragged is wired as it was. */
  private readonly id = computed(() => this.one()?.thing.id ?? null);
  protected readonly isWired = computed(() => {
    const id = this.id();
    if (id === null) return false;
    const { setsOff, askedBy, actedOnBy, namedBy } = connections(this.editor.level(), id);
    return setsOff.length + askedBy.length + actedOnBy.length + namedBy.length > 0;
  });
  /** The usual ways to set off the fixture in hand, while nothing does. */
  protected readonly waysToSetOff = computed(() => {
    const found = this.editor.find(this.id() ?? '');
    return found?.collection === 'fixtures' ? waysToSetOff(this.editor.level(), found.thing as Fixture) : [];
  });
  protected readonly index = computed<Line[]>(() => {
    const wanted = this.wanted().trim().toLowerCase();
    const level = this.editor.level();
    const connected = wanted.startsWith(CONNECTED) ? this.connectedTo(wanted.slice(CONNECTED.length).trim()) : null;
    return collections
      .filter((collection) => collection !== 'chains' && collection !== 'walks')
      .flatMap((collection) =>
        level[collection].map((thing) => ({
          id: thing.id,
          name: thing.name.trim(),
          word: longWord(collection, thing),
          finds: [
            thing.name,
            longWord(collection, thing),
            'group' in thing ? (thing.group ?? '') : '',
            ...('tags' in thing ? thing.tags : []),
          ]
            .join(' ')
            .toLowerCase(),
        })),
      )
      .filter(({ id, finds }) => (connected === null ? wanted === '' || finds.includes(wanted) : connected.has(id)));
  });
  protected readonly listed = computed(() => this.index().slice(0, shownAtMost));

  constructor() {
    // Another thing is read from its beginning.
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    effect(() => {
      this.id();
      host.scrollTop = 0;
    });
  }

  /** What stands in the same chains as anything of such a name. */
  private connectedTo(name: string): ReadonlySet<string> {
    const level = this.editor.level();
    const things = collections.flatMap((collection) => level[collection] as Thing[]);
    const found = new Set<string>();
    for (const { id } of things.filter((one) => name !== '' && one.name.toLowerCase().includes(name))) {
      const { setsOff, askedBy, actedOnBy, namedBy } = connections(level, id);
      const chains = new Set([...setsOff, ...askedBy, ...actedOnBy, ...namedBy]);
      for (const chain of level.chains.filter((one) => chains.has(one.id)))
        for (const { to } of referencesOf('chains', chain)) if (to !== id) found.add(to);
    }
    return found;
  }

  protected choose(id: string): void {
    this.rooms.takeInHand(id);
    this.revealed.emit(id);
  }

  /** A room is a coordinate space of its own: the new one is put on the board at once. */
  protected addRoom(): void {
    const id = this.editor.newId('room');
    this.editor.add('rooms', createThing(this.editor.level(), 'room', id, '', { x: 0, y: 0, z: 0 }));
    this.rooms.choose(id);
    this.editor.select(id);
  }

  protected addFact(fact: StateKind): void {
    const id = this.editor.newId(fact);
    this.editor.add(factCollection[fact], createFact(this.editor.level(), fact, id));
    this.editor.select(id);
  }

  protected seconds(hundredths: number): string {
    return (hundredths / 100).toFixed(2);
  }

  /** Lets the fixture in hand be set off in one of the usual ways; it stays in hand. */
  protected letBeSetOff(way: string): void {
    const { thing } = this.one()!;
    this.editor.edit(setOff(this.editor.level(), thing as Fixture, way, (prefix) => this.editor.newId(prefix)));
  }

  /** Begins a chain that is set off by an event of the thing in hand, and goes on to wire it. */
  protected beginChain(event: CauseEvent): void {
    const one = this.one();
    if (one === null) return;
    const id = this.editor.newId('chain');
    const { saidOf, verb } = kindOfCause(event);
    const name = `${one.thing.name.trim()}: ${saidOf === 'visitor' ? 'somebody ' : ''}${verb}`;
    this.editor.add(
      'chains',
      createChain(this.editor.level(), id, name, [createCause(this.editor.newId('cause'), event, one.thing.id)]),
    );
    this.editor.select(id);
    void this.router.navigate(this.places.path('wire'));
  }

  protected go(place: 'wire' | 'rehearse'): void {
    void this.router.navigate(this.places.path(place));
  }
}

function waysOf(...all: Alignment[]): { id: `align-${Alignment}`; says: string }[] {
  return all.map((how) => ({ id: `align-${how}` as const, says: alignmentWords[how].split(',')[0]! }));
}

function longWord(collection: Collection, thing: Thing): string {
  if (collection === 'fixtures') return kindOfFixture((thing as Fixture).kind).word;
  return collection === 'visitors' ? wordOf(collection, thing) : collectionWord[collection];
}
