import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { Title } from '@angular/platform-browser';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzDrawerModule } from 'ng-zorro-antd/drawer';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { CheckPlace } from '../check/check-place';
import { Snags } from '../check/snags';
import { DrawPlace } from '../draw/draw-place';
import { RehearsePlace } from '../rehearse/rehearse-place';
import { Autosave } from '../saving/autosave';
import { ConflictSheet } from '../saving/conflict-sheet';
import { FoundDrafts } from '../saving/found-drafts';
import { RevisionList } from '../saving/revision-list';
import { LevelActions } from '../state/level.actions';
import { studioFeature } from '../state/studio.feature';
import { WirePlace } from '../wire/wire-place';
import { DialogName } from './dialog-name';
import { download } from './download';
import { Editor } from './editor';
import { Keys } from './keys';
import { Mark } from './mark';
import { Places, placeNames } from './places';
import type { PlaceName } from './places';
import { Rooms } from './rooms';
import { Theme } from './theme';

const saveWords = {
  saved: 'saved',
  saving: 'saving…',
  offline: 'offline: kept in this browser',
  conflict: 'conflict: two versions',
  refused: 'not saved',
};

/** One open level: the title strip, and the four places of the work. */
@Component({
  selector: 'nw-studio-page',
  imports: [
    CheckPlace,
    ConflictSheet,
    DialogName,
    DrawPlace,
    FoundDrafts,
    Mark,
    NzDrawerModule,
    NzModalModule,
    RehearsePlace,
    RevisionList,
    RouterLink,
    WirePlace,
  ],
  providers: [Autosave, Editor, Keys, Places, Rooms, Snags],
  templateUrl: './studio-page.html',
  styleUrl: './studio-page.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StudioPage {
  readonly levelId = input.required<string>();
  readonly place = input.required<string>();
  readonly walk = input<string | undefined>();
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  protected readonly editor = inject(Editor);
  protected readonly places = inject(Places);
  protected readonly rooms = inject(Rooms);
  protected readonly theme = inject(Theme);
  protected readonly autosave = inject(Autosave);
  private readonly looked = inject(Snags);
  protected readonly names = placeNames;
  protected readonly state = this.store.selectSignal(studioFeature.selectStudioState);
  protected readonly saveState = this.store.selectSignal(studioFeature.selectSaveState);
  protected readonly words = saveWords;
  /** How many references lead nowhere: said beside the place that lists them. */
  protected readonly snags = computed(() => this.looked.found()?.length ?? 0);
  protected readonly helping = signal(false);
  protected readonly reading = signal(false);
  protected readonly comparing = signal(true);
  protected readonly wrongName = signal<string | null>(null);

  constructor() {
    const title = inject(Title);
    effect(() => {
      const levelId = this.levelId();
      this.store.dispatch(LevelActions.open({ levelId }));
    });
    effect(() => {
      const name = this.state().level?.name;
      title.setTitle(name === undefined ? 'Nettlewick' : `${name} — Nettlewick`);
    });
    inject(Keys).handle((event) => this.key(event));
  }

  protected retry(): void {
    this.store.dispatch(LevelActions.open({ levelId: this.levelId() }));
  }

  protected rename(name: string): void {
    this.wrongName.set(this.editor.setLevel('name', name.trim()));
  }

  protected exportLevel(): void {
    const level = this.editor.level();
    download(
      `${level.name
        .trim()
        .replace(/[^\p{L}\p{N}]+/gu, '-')
        .toLowerCase()}.level.json`,
      JSON.stringify(level, null, 2) + '\n',
    );
  }

  private key(event: KeyboardEvent): boolean {
    const key = event.key.toLowerCase();
    if (this.state().level === null) return false;
    if (event.ctrlKey || event.metaKey) {
      if (key === 'z' && !event.shiftKey) this.editor.undo();
      else if (key === 'y' || key === 'z') this.editor.redo();
      else if (key === 's') this.autosave.now();
      else return false;
      return true;
    }
    if (event.key === '?') {
      this.helping.set(true);
      return true;
    }
    const place: PlaceName | undefined = placeNames[Number(event.key) - 1];
    if (place === undefined || event.altKey) return false;
    void this.router.navigate(this.places.path(place));
    return true;
  }
}
