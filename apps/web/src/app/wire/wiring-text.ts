import {
  CSP_NONCE,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  computed,
  effect,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { autocompletion, completionKeymap } from '@codemirror/autocomplete';
import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap, indentWithTab } from '@codemirror/commands';
import { lintKeymap, setDiagnostics } from '@codemirror/lint';
import type { Diagnostic } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import type { Line, Text } from '@codemirror/state';
import { EditorView, drawSelection, keymap, lineNumbers } from '@codemirror/view';
import type { ViewUpdate } from '@codemirror/view';
import { collections, completionsOf, factWords, mergedText, nameKey } from '@nettlewick/core';
import type { Level, TextFault, Thing, WiringRead } from '@nettlewick/core';
import { Editor } from '../state/editor';
import { LevelStore } from '../state/level-store';
import { workerFor } from '../workers/start';
import { UnappliedText } from './unapplied-text';
import { wiringLook } from './wiring-look';

/** For so long nothing is typed before a text is read, in milliseconds. */
const PAUSE = 250;

const heads = new Set<string>([...factWords, 'chain']);
/** All wiring of the level as text: what is typed is read when it pauses, and made when it is applied or left. */
@Component({
  selector: 'nw-wiring-text',
  template: `
    <div class="bar">
      <button type="button" class="button first" [disabled]="!canApply()" (click)="apply()">Apply</button>
      <button type="button" class="button" [disabled]="!isDirty()" (click)="revert()">Revert</button>
      <p role="status" [class.wrong]="faults().length > 0">{{ state() }}</p>
    </div>
    <div #page class="page"></div>
  `,
  styleUrl: './wiring-text.css',
  host: { '[class.dirty]': 'isDirty()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WiringText {
  private readonly editor = inject(Editor);
  private readonly unapplied = inject(UnappliedText);
  private readonly levelId = inject(LevelStore).levelId();
  private readonly page = viewChild.required<ElementRef<HTMLElement>>('page');
  private readonly worker = workerFor('wiring');
  private readonly nonce = inject(CSP_NONCE) ?? '';
  private view: EditorView | null = null;
  /** The text of the level as it was printed last; and what stands in the page. */
  private readonly base = signal<string | null>(null);
  private readonly typed = signal('');
  private readonly answer = signal<{ text: string; level: Level; read: WiringRead } | null>(null);
  /** What the text stands for: what is not in it any more is deleted. */
  private standsFor: string[] = [];
  /** The text that was applied last. */
  private applied: string | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  protected readonly isDirty = computed(() => this.base() !== null && this.typed() !== this.base());
  protected readonly faults = computed<readonly TextFault[]>(() => {
    const read = this.answer()?.read;
    return !this.isDirty() || read === undefined || read.ok ? [] : read.faults;
  });
  private readonly isRead = computed(() => this.answer()?.text === this.typed() && this.answer()?.level === this.editor.level());
  protected readonly canApply = computed(() => this.isDirty() && this.isRead() && this.answer()!.read.ok);
  protected readonly state = computed(() => {
    if (this.base() === null) return 'Writing down the wiring…';
    if (!this.isDirty()) return 'Type a line as it stands in a band; Ctrl+Space lists what can come next.';
    const read = this.answer()?.read;
    if (read === undefined || !this.isRead()) return 'Reading…';
    if (!read.ok) {
      const [{ line, message }] = read.faults as [TextFault];
      return `${read.faults.length === 1 ? '' : `${read.faults.length} lines cannot be read. `}Line ${line}: ${message}`;
    }
    const { added, changed, removed } = read.changes;
    const parts = [
      [added, 'new'],
      [changed, 'changed'],
      [removed, 'to be deleted'],
    ] as const;
    const said = parts.filter(([names]) => names.length > 0).map(([names, how]) => `${listed(names)} ${how}`);
    return said.length === 0 ? 'Says the same as before.' : `${said.join('; ')}. Ctrl+Enter applies it.`;
  });

  constructor() {
    afterNextRender(() => this.begin());
    effect(() => {
      const level = this.editor.level();
      untracked(() => void this.print(level));
    });
    // What is selected elsewhere is brought into view.
    effect(() => {
      const [id] = this.editor.selection();
      if (id === undefined || this.base() === null) return;
      untracked(() => this.bring(id));
    });
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.timer);
      if (this.canApply()) this.apply();
      else if (this.isDirty()) this.unapplied.keep(this.levelId, this.base()!, this.typed());
      this.view?.destroy();
      this.worker.end();
    });
  }

  private begin(): void {
    const state = EditorState.create({
      doc: this.typed(),
      extensions: [
        lineNumbers(),
        history(),
        drawSelection(),
        EditorView.lineWrapping,
        EditorView.cspNonce.of(this.nonce),
        wiringLook,
        autocompletion({ override: [(context) => this.complete(context)], icons: false }),
        keymap.of([
          { key: 'Enter', run: newLine },
          { key: 'Mod-Enter', run: () => (this.applySoon(), true) },
          indentWithTab,
          ...completionKeymap,
          ...defaultKeymap,
          ...historyKeymap,
          ...lintKeymap,
        ]),
        EditorView.contentAttributes.of({ 'aria-label': 'Wiring as text', tabindex: '0' }),
        EditorView.updateListener.of((update) => this.onUpdate(update)),
        EditorView.domEventHandlers({ blur: () => void this.applySoon() }),
      ],
    });
    this.view = new EditorView({ state, parent: this.page().nativeElement });
  }

  /** Prints a level; where nothing else was typed meanwhile, its text takes the place of the one before. */
  private async print(level: Level): Promise<void> {
    try {
      const text = await this.worker.ask(level, (remote) => remote.print());
      if (level !== this.editor.level()) return;
      const before = this.base();
      const left = before === null ? this.unapplied.take(this.levelId) : null;
      const isTyped = this.isDirty() && this.typed() !== this.applied;
      const own = isTyped ? { base: before!, text: this.typed() } : left;
      // What was added elsewhere meanwhile is in the text then, and not taken for deleted.
      const next = own === null ? text : mergedText(own.base, own.text, text);
      this.base.set(text);
      this.standsFor = wiredIds(level);
      this.write(next);
      this.readSoon();
    } catch {
      // It is printed again after the next edit.
    }
  }

  /** Puts a text into the page: only what is otherwise, so that the cursor stays where it was. */
  private write(text: string): void {
    const { view } = this;
    this.typed.set(text);
    if (view === null) return;
    const now = view.state.doc.toString();
    if (now === text) return;
    let from = 0;
    while (from < now.length && now[from] === text[from]) from += 1;
    let [end, till] = [now.length, text.length];
    while (end > from && till > from && now[end - 1] === text[till - 1]) {
      end -= 1;
      till -= 1;
    }
    view.dispatch({ changes: { from, to: end, insert: text.slice(from, till) } });
  }

  private onUpdate({ docChanged, selectionSet, state, view }: ViewUpdate): void {
    if (docChanged) {
      this.typed.set(state.doc.toString());
      this.readSoon();
    }
    if (!selectionSet || !view.hasFocus) return;
    const found = this.thingAt(state.doc, state.selection.main.head);
    if (found !== undefined && this.editor.selection()[0] !== found.id) this.editor.select(found.id);
  }

  private readSoon(): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.read(), PAUSE);
  }

  private async read(): Promise<void> {
    const [text, level] = [this.typed(), this.editor.level()];
    if (!this.isDirty()) return this.show([]);
    const ids = this.standsFor;
    try {
      const read = await this.worker.ask(level, (remote) => remote.read(text, ids) as Promise<WiringRead>);
      if (text !== this.typed() || level !== this.editor.level()) return;
      this.answer.set({ text, level, read });
      this.show(read.ok ? [] : read.faults);
    } catch {
      // It is read again after the next key.
    }
  }

  /** Underlines what is wrong. */
  private show(faults: readonly TextFault[]): void {
    const { view } = this;
    if (view === null) return;
    const { doc } = view.state;
    const diagnostics = faults.map(({ line, column, length, message }): Diagnostic => {
      const at = doc.line(Math.min(line, doc.lines));
      const from = Math.min(at.from + column - 1, at.to);
      return {
        from: from === at.to ? Math.max(at.from, from - 1) : from,
        to: Math.min(from + length, at.to),
        severity: 'error',
        message,
      };
    });
    view.dispatch(setDiagnostics(view.state, diagnostics));
  }

  /** Applies what is typed, once it is read. */
  private async applySoon(): Promise<void> {
    clearTimeout(this.timer);
    if (!this.isRead()) await this.read();
    this.apply();
  }

  protected apply(): void {
    const answer = this.answer();
    if (!this.canApply() || answer === null || !answer.read.ok) return;
    const { edit, changes } = answer.read;
    if (edit === null) return this.revert();
    this.applied = answer.text;
    this.editor.edit(edit);
    const count = changes.added.length + changes.changed.length + changes.removed.length;
    if (changes.removed.length > 0) this.editor.say(`Deleted ${listed(changes.removed)}; ${count} in all changed by the text.`);
  }

  protected revert(): void {
    const base = this.base();
    if (base !== null) this.write(base);
    this.answer.set(null);
    this.show([]);
  }

  private complete({ state, pos, explicit }: CompletionContext): CompletionResult | null {
    const line = state.doc.lineAt(pos);
    const before = line.text.slice(0, pos - line.from);
    if (!explicit && before.trim() === '') return null;
    const { from, options } = completionsOf(this.editor.level(), headOf(state.doc, line)?.text ?? null, before);
    const begun = before.slice(from).toLowerCase();
    // What is written out already needs no list, and Enter begins the next line.
    if (options.length === 0 || options.some((one) => one.toLowerCase() === begun)) return null;
    return { from: line.from + from, options: options.map((label, i) => ({ label, boost: -i })), filter: false };
  }

  private thingAt(doc: Text, at: number): Thing | undefined {
    const [, word = '', name = ''] = /^(\S+)\s+(.*)$/.exec(headOf(doc, doc.lineAt(at))?.text ?? '') ?? [];
    if (!heads.has(word)) return undefined;
    const level = this.editor.level();
    return collections
      .flatMap((collection) => level[collection] as Thing[])
      .find((thing) => nameKey(thing.name) === nameKey(name));
  }

  private bring(id: string): void {
    const { view } = this;
    const found = this.editor.find(id);
    if (view === null || view.hasFocus || found === undefined) return;
    const key = nameKey(found.thing.name);
    for (let number = 1; number <= view.state.doc.lines; number++) {
      const line = view.state.doc.line(number);
      const [, word = '', name = ''] = /^(\S+)\s+(.*)$/.exec(line.text) ?? [];
      if (!heads.has(word) || nameKey(name) !== key) continue;
      view.dispatch({
        selection: { anchor: line.from },
        effects: EditorView.scrollIntoView(line.from, { y: 'start', yMargin: 20 }),
      });
      return;
    }
  }
}

/** The ids of all that the text of a level is about. */
function wiredIds(level: Level): string[] {
  return wiredCollections.flatMap((collection) => (level[collection] as Thing[]).map(({ id }) => id));
}

const wiredCollections = ['flags', 'counters', 'texts', 'signals', 'watches', 'chains'] as const;

/** Begins a line as far in as it will most likely stand: causes below the name, steps below causes; an empty one ends the paragraph. */
function newLine({ state, dispatch }: EditorView): boolean {
  const { main } = state.selection;
  const line = state.doc.lineAt(main.from);
  if (line.text.trim() === '' && line.text !== '') {
    dispatch(state.update({ changes: { from: line.from, to: line.to }, selection: { anchor: line.from }, userEvent: 'input' }));
    return true;
  }
  const [indent = ''] = /^\s*/.exec(line.text)!;
  const isHead = /^(?:flag|counter|text|signal|watch|chain)\s+\S/i.test(line.text);
  const isBegun = /^\s+(?:when|only if|it starts|if triggered|off)\b/i.test(line.text);
  const next = isHead ? '  ' : isBegun ? '    ' : indent;
  dispatch(state.update({ ...state.replaceSelection(`\n${next}`), scrollIntoView: true, userEvent: 'input' }));
  return true;
}

/** The first line of the paragraph that a line is of. */
function headOf(doc: Text, line: Line): Line | null {
  let at = line;
  while (/^(?:\s|$)/.test(at.text)) {
    if (at.number === 1) return null;
    at = doc.line(at.number - 1);
  }
  return at;
}

function listed(names: readonly string[]): string {
  return names.length > 3 ? `${names.length} paragraphs` : names.map((name) => `“${name}”`).join(', ');
}
