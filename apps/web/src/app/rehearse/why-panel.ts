import { ChangeDetectionStrategy, Component, computed, effect, inject, model, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { expectationWords, nameOf, spoken, stepPhrase, wordOf } from '@nettlewick/core';
import type { Collection, Reason, Thing } from '@nettlewick/core';
import { NzSelectModule } from 'ng-zorro-antd/select';
import { Editor } from '../state/editor';
import { FixList } from './fix-list';
import { Playback } from './playback';
import { RehearsalStore } from './rehearsal-store';
import { SearchLabel } from '../controls/search-label';

const askable: readonly Collection[] = ['chains', 'zones', 'fixtures', 'visitors', 'watches', 'signals', 'flags', 'counters'];

/** Stands for the moment that is shown, among what is asked about by its id. */
const MOMENT = '@';

/** The number of entries listed at first for a reason. */
const PREVIEW_COUNT = 4;

/** Why nothing happened at something, answered from the run: with the entries that say so, and the remedy as a press. */
@Component({
  selector: 'nw-why-panel',
  imports: [FixList, FormsModule, SearchLabel, NzSelectModule],
  template: `
    <div class="sheet">
      <h2>Why did nothing happen at…</h2>
      <nz-select
        class="of"
        nzShowSearch
        nzPlaceHolder="Choose an expectation, chain, step, zone, fixture, visitor or this moment, or click the plan"
        nwNamed="What is asked about"
        [ngModel]="about()"
        (ngModelChange)="about.set($event)"
        [nzOptions]="options()"
      />
      @if (answer(); as reasons) {
        <ol aria-live="polite">
          @for (one of reasons; track $index) {
            <li>
              <p class="answer-says says">{{ one.says }}</p>
              <p class="answer-tools">
                @for (entry of one.entries.slice(0, unfolded() === one ? undefined : few); track entry) {
                  <button type="button" class="button small" (click)="playback.show(entry)">entry {{ entry }}</button>
                }
                @if (one.entries.length > few && unfolded() !== one) {
                  <button type="button" class="button bare small" (click)="unfolded.set(one)">
                    and {{ one.entries.length - few }} more entries
                  </button>
                }
                @if (one.tick !== null) {
                  <button type="button" class="button small" (click)="playback.seek(one.tick)">Show that moment</button>
                }
                @if (one.mend !== '') {
                  <span>{{ one.mend }}</span>
                }
                @if (one.edit; as edit) {
                  <button type="button" class="button first small" (click)="editor.edit(edit)">Fix</button>
                }
              </p>
            </li>
          } @empty {
            <li class="quiet">No further reasons.</li>
          }
        </ol>
      } @else if (about() !== null) {
        <p class="quiet">Analysing…</p>
      } @else {
        <p class="quiet">
          Explains, for this walk: whether it was reached, how close a visitor came, which gate held it (with the values read),
          and what undid it.
        </p>
      }
      @if (unmet(); as missing) {
        <h3>
          {{ missing === 1 ? '1 expectation of this walk is not met' : missing + ' expectations of this walk are not met' }}
        </h3>
        <nw-fix-list [walk]="walk()" />
      }
    </div>
  `,
  styles: `
    .sheet {
      padding: 12px 18px;
    }
    h2 {
      font-size: 16px;
    }
    h3 {
      margin: 14px 0 4px;
      font-size: 14px;
    }
    .of {
      width: 100%;
      margin: 6px 0;
    }
    ol {
      margin: 8px 0;
      padding-left: 22px;
    }
    li {
      padding: 6px 0;
      border-bottom: 1px dotted var(--line);
    }
    p {
      margin: 2px 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WhyPanel {
  readonly about = model<string | null>(null);
  protected readonly editor = inject(Editor);
  protected readonly playback = inject(Playback);
  private readonly rehearser = inject(RehearsalStore);
  protected readonly answer = signal<Reason[] | null>(null);
  /** The reason of which all entries are shown. */
  protected readonly unfolded = signal<Reason | null>(null);
  protected readonly few = PREVIEW_COUNT;
  /** The walk that was rehearsed last, and how much of what is expected of it was not met. */
  protected readonly walk = computed(() => this.rehearser.ran()?.walk ?? '');
  protected readonly unmet = computed(() => this.rehearser.ran()?.expectations.filter(({ passed }) => !passed).length ?? 0);
  private asked = 0;
  protected readonly options = computed(() => {
    const level = this.editor.level();
    const named = (id: string): string => nameOf(level, id).trim();
    return [
      { value: MOMENT, label: 'the moment that is shown' },
      ...(level.walks.find(({ id }) => id === this.walk())?.expectations ?? []).map((one) => ({
        value: one.id,
        label: `expected: ${expectationWords(level, one)}`,
      })),
      ...askable.flatMap((collection) =>
        (level[collection] as Thing[]).map((thing) => ({
          value: thing.id,
          label: `${thing.name.trim()} (${wordOf(collection, thing)})`,
        })),
      ),
      ...level.chains.flatMap(({ id, name, steps }) =>
        steps.map((step, at) => ({
          value: `${id} ${step.id}`,
          label: `step ${at + 1} of ${name.trim()}: ${spoken(stepPhrase(step), named)}`,
        })),
      ),
    ];
  });

  constructor() {
    // Asked anew whenever the run is another.
    effect(() => {
      const about = this.about();
      this.rehearser.ran();
      // A moment is asked about when it stays.
      const tick = about === MOMENT && !this.playback.playing() ? this.playback.tick() : 0;
      untracked(() => void this.ask(about, tick));
    });
  }

  private async ask(about: string | null, tick: number): Promise<void> {
    if (about === null) {
      this.answer.set(null);
      return;
    }
    const [of = '', step] = about.split(' ');
    const asked = (this.asked += 1);
    const found = await this.rehearser.why(about === MOMENT ? { tick } : step === undefined ? { of } : { of, step });
    if (this.asked === asked) this.answer.set(found);
  }
}
