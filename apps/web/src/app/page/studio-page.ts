import { TitleCasePipe } from '@angular/common';
import {
  ApplicationRef,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Title } from '@angular/platform-browser';
import { Router, RouterLink } from '@angular/router';
import { NzDrawerModule } from 'ng-zorro-antd/drawer';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { CheckView } from '../check/check-view';
import { FindingsStore } from '../state/findings-store';
import { MotionPreview } from '../draw/scrub';
import { Tape } from '../state/tape';
import { DrawView } from '../draw/draw-view';
import { EditImpactBar } from '../rehearse/aftermath-strip';
import { EditImpactStore } from '../state/aftermaths';
import { PlayFeed } from '../state/play-feed';
import { LastViewedMoment } from '../editing/last-look';
import { RehearseView } from '../rehearse/rehearse-view';
import { Tries } from '../rehearse/tries';
import { Autosave } from '../saving/autosave';
import { LevelSync } from '../saving/company';
import { ConflictDialog } from '../saving/conflict-dialog';
import { FoundDrafts } from '../saving/found-drafts';
import { NewsBar } from '../saving/news-bar';
import { RevisionList } from '../saving/revision-list';
import { LevelStore } from '../state/level-store';
import { LevelLoader } from '../saving/opening';
import { WireView } from '../wire/wire-view';
import { ChainLayout } from '../editing/bands';
import { UrlState } from './address';
import { commandTable, keyText } from '../editing/command-table';
import { Commands } from '../editing/commands';
import type { Doing } from '../editing/commands';
import { RevealedFields } from '../sentence/revealed-fields';
import { Picking } from '../sentence/picking';
import { DialogName } from '../controls/dialog-name';
import { download, fileNameOf } from '../controls/download';
import { Editor, THE_LEVEL } from '../state/editor';
import { ThingFactory } from '../sentence/made';
import { Icon } from '../controls/icon';
import { NextStep } from '../editing/next-step';
import { Snap } from '../editing/snap';
import { Palette } from './palette';
import { PassingNotice } from './passing-notice';
import { Views, viewNames } from '../editing/views';
import type { ViewName } from '../editing/views';
import { Rooms } from '../state/rooms';
import { Tags } from '../state/tags';
import { Theme } from '../state/theme';
import { SearchLabel } from '../controls/search-label';
import { LayerVisibility } from '../editing/veil';
import { Tip } from '../controls/tip';

const saveWords = {
  saved: 'Saved',
  saving: 'Saving…',
  offline: 'Offline, saved in this browser',
  conflict: 'Conflict: two versions',
  refused: 'Not saved',
};

/** One open level: the title strip, and the four places of the work. */
@Component({
  selector: 'nw-studio-page',
  imports: [
    Tip,
    EditImpactBar,
    CheckView,
    ConflictDialog,
    DialogName,
    DrawView,
    FormsModule,
    FoundDrafts,
    NewsBar,
    Icon,
    SearchLabel,
    NzDrawerModule,
    NzModalModule,
    NzSelectModule,
    Palette,
    RehearseView,
    RevisionList,
    RouterLink,
    WireView,
    PassingNotice,
    TitleCasePipe,
  ],
  providers: [
    UrlState,
    EditImpactStore,
    RevealedFields,
    Autosave,
    ChainLayout,
    Commands,
    LevelSync,
    Editor,
    LastViewedMoment,
    ThingFactory,
    NextStep,
    Picking,
    Views,
    PlayFeed,
    Rooms,
    FindingsStore,
    Snap,
    Tags,
    MotionPreview,
    Tape,
    Tries,
    LayerVisibility,
  ],
  templateUrl: './studio-page.html',
  styleUrl: './studio-page.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StudioPage {
  readonly levelId = input.required<string>();
  readonly place = input.required<string>();
  readonly walk = input<string | undefined>();
  /** The revision whose rehearsal the address asks for. */
  readonly revision = input<string | undefined>();
  private readonly opening = inject(LevelLoader);
  private readonly router = inject(Router);
  protected readonly editor = inject(Editor);
  protected readonly places = inject(Views);
  protected readonly rooms = inject(Rooms);
  protected readonly theme = inject(Theme);
  protected readonly autosave = inject(Autosave);
  /** How many windows have this level open. */
  private readonly company = inject(LevelSync);
  protected readonly windows = this.company.windows;
  /** Whether another window has deleted this level. */
  protected readonly deleted = this.company.deleted;
  private readonly looked = inject(FindingsStore);
  /** Whether the browser takes the way to the server for secure; if not, some of what it can do is shut off. */
  protected readonly secure = isSecureContext;
  protected readonly insecure =
    'Not over an encrypted connection: edits that another window has left unsaved are not offered, a stopped server is not bridged by a reload, and links are not put into the clipboard.';
  protected readonly names = viewNames;
  protected readonly store = inject(LevelStore);
  /** What the strip says about saving. */
  protected readonly saving = computed(() => {
    const state = this.store.saveState();
    // What this browser has not stored yet would be lost with the window.
    return state === 'offline' && this.store.drafted() !== this.store.level() ? 'Offline, not saved yet' : saveWords[state];
  });
  /** How many faults and warnings there are: said beside the place that lists them. */
  protected readonly snags = this.looked.grave;
  /** How many expectations of the level's walks are not met: said beside the place where they are. */
  protected readonly unmet = inject(EditImpactStore).unmet;
  protected readonly commands = inject(Commands);
  protected readonly finding = signal(false);
  protected readonly helping = signal(false);
  /** Every command there is, by the place where it can be done. */
  protected readonly help = ['everywhere' as const, ...viewNames, 'walking' as const].map((place) => ({
    place,
    commands: [...commandTable.values()]
      .filter((command) => command.place === place && command.keys.length > 0)
      .map(({ name, keys }) => ({ name, keys: shortKeys(keys) })),
  }));
  protected readonly reading = signal(false);
  protected readonly comparing = signal(true);
  protected readonly wrongName = signal<string | null>(null);
  private readonly app = inject(ApplicationRef);

  private readonly main = viewChild<ElementRef<HTMLElement>>('main');
  private isIn = false;

  constructor() {
    inject(UrlState);
    const title = inject(Title);
    effect(() => {
      const levelId = this.levelId();
      untracked(() => void this.opening.open(levelId));
    });
    effect(() => {
      const name = this.store.level()?.name;
      title.setTitle(name === undefined ? 'Nettlewick' : `${name} — Nettlewick`);
    });
    // Focus moves into the level, so that the next key is meant for it.
    effect(() => {
      if (this.store.level() === null || this.main() === undefined || this.isIn) return;
      this.isIn = true;
      const { activeElement } = document;
      if (activeElement === null || activeElement === document.body) this.main()!.nativeElement.focus({ preventScroll: true });
    });
    const isOpen = (): boolean => this.store.level() !== null;
    const go = (place: ViewName): Doing => ({
      when: isOpen,
      run: () => void this.router.navigate(this.places.path(place)),
    });
    this.commands.offer({
      'find-command': { when: isOpen, run: () => this.find() },
      help: { when: isOpen, run: () => this.helping.set(true) },
      undo: { when: (event) => isOpen() && (event !== null || this.editor.canUndo()), run: () => this.editor.undo() },
      redo: { when: (event) => isOpen() && (event !== null || this.editor.canRedo()), run: () => this.editor.redo() },
      save: { when: isOpen, run: () => this.autosave.now() },
      'go-draw': go('draw'),
      'go-wire': go('wire'),
      'go-rehearse': go('rehearse'),
      'go-check': go('check'),
      history: { when: isOpen, run: () => this.reading.set(true) },
      export: { when: isOpen, run: () => this.exportLevel() },
      theme: () => this.theme.toggle(),
    });
  }

  protected async recover(): Promise<void> {
    const error = await this.company.recover();
    if (error !== null) this.editor.say(error);
  }

  protected retry(): void {
    void this.opening.open(this.levelId());
  }

  /** Opens what commands and things are found in: at once, for the next key is meant for it. */
  private find(): void {
    this.finding.set(true);
    this.app.tick();
  }

  protected rename(name: string): void {
    this.wrongName.set(this.editor.set(THE_LEVEL, '/name', name.trim()));
  }

  protected exportLevel(): void {
    const level = this.editor.level();
    download(`${fileNameOf(level.name)}.level.json`, JSON.stringify(level, null, 2) + '\n');
  }
}

/** Keys as people read them, without those that only say the same with Shift. */
function shortKeys(keys: readonly string[]): string[] {
  return keys.filter((key) => !key.startsWith('Shift+') || !keys.includes(key.slice(6))).map(keyText);
}
