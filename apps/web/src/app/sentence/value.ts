import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  computed,
  effect,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  conditionWords,
  keptValue,
  same,
  shownNumber,
  slotText,
  visitorKinds,
  inOwnUnit,
  offered,
  placeAt,
  unitsOf,
} from '@nettlewick/core';
import type { ByName, Edit, Place, Slot, SlotInput, ThingWord } from '@nettlewick/core';
import { NzCheckboxModule } from 'ng-zorro-antd/checkbox';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { Editor } from '../state/editor';
import { Tape } from '../state/tape';
import { ThingFactory } from './made';
import { Tags } from '../state/tags';
import { RevealedFields } from './revealed-fields';
import { ConditionEditor } from './condition-editor';
import { Picking } from './picking';
import type { PickRequest } from './picking';
import { readNumber, readTags } from './reading';
import { SearchLabel } from '../controls/search-label';
import { Tip } from '../controls/tip';

/** What one line of a list comes to when it is chosen: some values set by their paths, or something new that is named. */
interface Choice {
  value: unknown;
  label: string;
  sets?: { path: string; value: unknown }[];
  make?: ThingWord;
}

/** One value in a sentence: a click, or Enter, makes it editable in place; what is wrong is said right below it. */
@Component({
  selector: 'nw-value',
  imports: [Tip, ConditionEditor, FormsModule, SearchLabel, NzCheckboxModule, NzSelectModule],
  templateUrl: './value.html',
  styleUrl: './value.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Value {
  readonly slot = input.required<Slot>();
  readonly thing = input.required<string>();
  readonly prefix = input('');

  protected readonly editor = inject(Editor);
  private readonly made = inject(ThingFactory);
  private readonly tags = inject(Tags);
  private readonly asked = inject(RevealedFields);
  private readonly picking = inject(Picking);
  private readonly tape = inject(Tape);
  /** What the tape measured last, for a length that is being typed. */
  protected readonly measured = computed(() => {
    const { input: asked } = this.slot();
    return asked.kind === 'number' && asked.unit === 'm' ? this.tape.numbers() : [];
  });
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly field = viewChild<ElementRef<HTMLInputElement>>('field');
  protected readonly editing = signal(false);
  protected readonly error = signal<string | null>(null);
  protected readonly kinds = visitorKinds;
  protected readonly typed = signal('');
  /** A tag like another of the level, by which it may have been meant. */
  protected readonly question = signal<{ tag: string; meant: string } | null>(null);
  private request: PickRequest | null = null;
  protected readonly text = computed(() => {
    const { input: asks, value, various } = this.slot();
    if (various === true) return 'various';
    const nameOf = (id: string): string => this.editor.nameOf(id);
    if (asks.kind === 'condition' && value !== '') return conditionWords(String(value), nameOf);
    if (asks.kind === 'place') return this.isPicking() ? 'Click the plan…' : 'pick…';
    if (asks.kind !== 'reference' || asks.tagged?.tag || String(value) !== '') return slotText(this.slot(), nameOf);
    return asks.none ?? 'choose…';
  });
  protected readonly isPicking = computed(() => this.picking.request() !== null && this.picking.request() === this.waiting());
  private readonly waiting = signal<PickRequest | null>(null);
  protected readonly path = computed(() => this.prefix() + this.slot().path);
  protected readonly bounds = computed(() => {
    const { input: asked } = this.slot();
    if (asked.kind !== 'number') return '';
    const own = inOwnUnit(this.editor.level(), this.slot());
    return `${asked.min} to ${asked.max}${asked.unit === '' ? '' : ` ${asked.unit}`}${own === '' ? '' : `, now ${own}`}${asked.none === undefined ? '' : `; empty: ${asked.none}`}`;
  });
  protected readonly broken = computed(() => {
    const { input: asked, value } = this.slot();
    if (asked.kind !== 'reference' || asked.tagged?.tag || (value === '' && asked.none !== undefined)) return false;
    // Asked of the one thing alone: all that could be chosen is listed only for who chooses.
    const found = this.editor.find(String(value));
    return found === undefined || !asked.accepts.includes(found.word);
  });
  /** What a reference or a choice may be. */
  protected readonly options = computed<Choice[]>(() => {
    const { input: asked, path } = this.slot();
    if (asked.kind === 'choice') {
      const { byName, options } = asked;
      if (byName === undefined) return options;
      // One that is chosen by name stands there already.
      const named = offered(this.editor.level(), byName.accepts).map((one) => ({ ...one, value: meantBy(byName, one.value) }));
      return [...options, ...named.filter(({ value }) => !options.some((option) => same(option.value, value)))];
    }
    if (asked.kind !== 'reference') return [];
    const { tagged } = asked;
    const untagged = tagged === undefined ? [] : [{ path: tagged.path, value: '' }];
    const none: Choice[] = asked.none === undefined ? [] : [{ value: '', label: asked.none, sets: [{ path, value: '' }] }];
    const found = offered(this.editor.level(), asked.accepts).map((one) => ({
      ...one,
      sets: [{ path, value: one.value }, ...untagged, ...following(asked, this.editor.find(one.value)?.word)],
    }));
    const typed = this.typed().trim();
    const known = tagged === undefined ? [] : this.tags.all();
    const tags = typed === '' || tagged === undefined || known.includes(typed) ? known : [...known, typed];
    const all = tags.map((tag) => ({ value: `#${tag}`, label: `all tagged ${tag}`, sets: [{ path: tagged!.path, value: tag }] }));
    const made = this.made.words(asked.accepts).map((word) => ({
      value: `+${word}`,
      label: typed === '' ? `a new ${this.made.called(word)}` : `a new ${this.made.called(word)}, “${typed}”`,
      make: word,
    }));
    return [...none, ...found, ...all, ...made];
  });
  protected readonly same = same;
  /** Whether a list is long enough to be searched by what is typed: it holds names. */
  protected readonly hasNames = computed(() => {
    const { input: asked } = this.slot();
    return asked.kind === 'choice' && asked.byName !== undefined;
  });

  protected readonly chosen = computed(() => {
    const { input: asked, value } = this.slot();
    const now = asked.kind === 'reference' && asked.tagged?.tag ? `#${asked.tagged.tag}` : value;
    return this.options().some((option) => option.value === now) ? now : null;
  });
  protected readonly label = computed(() => `${this.slot().label}: ${this.text()}. Edit`);

  constructor() {
    effect(() => {
      const field = this.field()?.nativeElement;
      if (field !== undefined) {
        field.focus();
        field.select?.();
      }
    });
    // What was asked for is typed at once.
    effect(() => {
      const next = this.asked.next();
      if (next === null || next.thing !== this.thing() || next.path !== this.path()) return;
      this.asked.editNext(null);
      this.begin();
    });
    inject(DestroyRef).onDestroy(() => this.picking.forget(this.request));
  }

  protected begin(): void {
    this.error.set(null);
    this.question.set(null);
    this.typed.set('');
    const { input: asked } = this.slot();
    if (asked.kind === 'place') {
      if (this.isPicking()) this.stopPicking();
      else this.pickPlace();
      return;
    }
    this.editing.set(true);
    if (asked.kind === 'reference') this.pickThing(asked.accepts, (id) => id);
    else if (asked.kind === 'choice' && asked.byName !== undefined) {
      const { byName } = asked;
      this.pickThing(byName.accepts, (id) => meantBy(byName, id));
    }
  }

  /** A thing that is pressed on the sheet while a list of things is open is chosen. */
  private pickThing(accepts: readonly string[], valueOf: (id: string) => unknown): void {
    this.ask({
      wanted: this.slot().label,
      take: ({ thing }) => {
        const found = this.editor.find(thing ?? '');
        if (found === undefined || !accepts.includes(found.word)) return false;
        this.pick(valueOf(found.thing.id));
        return true;
      },
    });
  }

  private pickPlace(): void {
    const { path } = this.slot();
    this.ask({
      wanted: this.slot().label,
      take: ({ at, room }) => {
        const now = this.slot().value as Place;
        this.give(placeAt(this.editor.level(), now, at, room, this.thing()), false, path);
        return true;
      },
    });
  }

  private ask(request: PickRequest): void {
    this.request = request;
    this.waiting.set(request);
    this.picking.ask(request);
  }

  private stopPicking(): void {
    this.picking.forget(this.request);
    this.request = null;
    this.waiting.set(null);
  }

  protected initial(): string {
    const { value, input: asked, various } = this.slot();
    if (various === true) return '';
    if (asked.kind === 'tags') return (value as string[]).join(', ');
    if (value === null) return '';
    return String(asked.kind === 'number' ? shownNumber(this.slot()) : value);
  }

  protected has(kind: string): boolean {
    return (this.slot().value as string[]).includes(kind);
  }

  protected toggleKind(kind: string): void {
    const now = this.slot().value as string[];
    this.give(
      this.kinds.filter((one) => (one === kind ? !now.includes(one) : now.includes(one))),
      true,
    );
  }

  protected pick(value: unknown): void {
    if (value === null || value === undefined) return;
    const choice = this.options().find((option) => same(option.value, value));
    if (choice?.make !== undefined) this.make(choice.make);
    else if (choice?.sets !== undefined) this.giveAll(choice.sets);
    else this.give(value);
  }

  /** Makes what does not exist yet, and chooses it, in one step of undo. */
  private make(word: ThingWord): void {
    const { path, input: asked } = this.slot();
    const { id, edit } = this.made.make(word, this.typed());
    const untagged = asked.kind === 'reference' && asked.tagged !== undefined ? [{ path: asked.tagged.path, value: '' }] : [];
    this.giveAll([{ path, value: id }, ...untagged, ...following(asked, word)], edit);
  }

  /** Pours a number into the field: behind a sign it goes on with the sum, else it stands alone. */
  protected pour(field: HTMLInputElement, value: number): void {
    field.value = /[-+*/(]\s*$/.test(field.value) ? `${field.value.trimEnd()} ${value}` : String(value);
    field.focus();
  }

  protected chooseTag(field: HTMLInputElement, tag: string): void {
    const now = readTags(field.value);
    field.value = this.slot().input.kind === 'tag' ? tag : (now.includes(tag) ? now : [...now, tag]).join(', ');
    field.focus();
  }

  /** The tags of the level, but for those that are there already. */
  protected readonly offered = computed(() => {
    const { value } = this.slot();
    return this.tags.all().filter((tag) => !(Array.isArray(value) ? value : [value]).includes(tag));
  });

  /** Takes the tag that was meant in place of the one that was typed. */
  protected takeMeant({ tag, meant }: { tag: string; meant: string }): void {
    const { value } = this.slot();
    this.question.set(null);
    this.give(Array.isArray(value) ? value.map((one) => (one === tag ? meant : String(one))) : meant);
  }

  /** Reads the field and gives the value; stays open with the reason if it is not allowed. */
  protected commit(text: string): void {
    if (!this.editing()) return;
    const { input: asked } = this.slot();
    if (asked.kind === 'number') {
      const read = readNumber(text, asked, unitsOf(this.editor.level(), asked.unit));
      if ('error' in read) this.error.set(read.error);
      else this.give(keptValue(read.value, asked));
    } else if (asked.kind === 'tags' || asked.kind === 'tag') {
      const known = this.tags.all();
      const tags = readTags(text);
      this.give(asked.kind === 'tags' ? tags : (tags[0] ?? ''));
      const strange = tags.flatMap((tag) => this.tags.like(tag, known) ?? []);
      this.question.set(strange[0] ?? null);
    } else {
      this.give(text);
    }
  }

  /** Leaving the field keeps a good value, and puts the old one back in place of a bad one. */
  protected leave(text: string): void {
    this.commit(text);
    if (this.error() === null) return;
    this.editing.set(false);
  }

  protected key(event: KeyboardEvent, text: string): void {
    event.stopPropagation();
    if (event.key === 'Enter') {
      event.preventDefault();
      this.commit(text);
      this.refocus();
    } else if (event.key === 'Escape') {
      this.cancel();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      this.stepBy(event, (event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 10 : 1));
    }
  }

  /** The arrow keys change a number by its step, with Shift by ten. */
  private stepBy(event: KeyboardEvent, steps: number): void {
    const { input: asked } = this.slot();
    const field = event.target as HTMLInputElement;
    if (asked.kind !== 'number') return;
    event.preventDefault();
    const read = readNumber(field.value, asked, unitsOf(this.editor.level(), asked.unit));
    const from = 'error' in read || read.value === null ? Math.max(0, asked.min) : read.value;
    const to = Math.min(asked.max, Math.max(asked.min, from + steps * asked.step));
    field.value = String(Number(to.toPrecision(10)));
  }

  protected cancel(): void {
    this.stopPicking();
    this.editing.set(false);
    this.error.set(null);
    this.refocus();
  }

  protected openChanged(open: boolean): void {
    if (!open) this.cancel();
  }

  /** Keys in a list are the list's; Escape and Tab leave it as it was. */
  protected listKey(event: KeyboardEvent): void {
    event.stopPropagation();
    if (event.key !== 'Escape' && event.key !== 'Tab') return;
    if (event.key === 'Escape') event.preventDefault();
    this.cancel();
  }

  protected give(value: unknown, stay = false, path = this.slot().path): void {
    this.answered(this.editor.set(this.thing(), this.prefix() + path, value), stay);
  }

  private giveAll(sets: { path: string; value: unknown }[], before?: Edit): void {
    const own = sets.map(({ path, value }) => ({ path: this.prefix() + path, value }));
    this.answered(this.editor.setAll(this.thing(), own, before), false);
  }

  private answered(error: string | null, stay: boolean): void {
    this.error.set(error);
    if (error === null && !stay) {
      this.stopPicking();
      this.editing.set(false);
      this.refocus();
    }
  }

  private refocus(): void {
    const { nativeElement } = this.host;
    const had = nativeElement.contains(document.activeElement) || document.activeElement === document.body;
    const path = this.prefix() + this.slot().path;
    const thing = nativeElement.closest('nw-sentence');
    setTimeout(() => {
      if (!had || this.editing()) return;
      // A choice may have written the sentence anew: then the value that stands where this one stood is taken.
      const value = `button[data-path="${CSS.escape(path)}"]`;
      const again = nativeElement.isConnected ? nativeElement : thing?.isConnected === true ? thing : null;
      const button =
        again === null
          ? document.querySelector<HTMLElement>(value)
          : (again.querySelector<HTMLElement>(value) ?? again.querySelector<HTMLElement>('button'));
      button?.focus();
    });
  }
}

/** What a choice comes to when a thing is chosen by its name. */
function meantBy({ value, key }: ByName, id: string): unknown {
  return { ...value, [key]: id };
}

/** What is set with a reference to a thing of that word. */
function following(asked: SlotInput, word: string | undefined): { path: string; value: unknown }[] {
  if (asked.kind !== 'reference' || asked.follows === undefined || word === undefined) return [];
  const { path, by } = asked.follows;
  return word in by ? [{ path, value: by[word] }] : [];
}
