import { proxy } from 'comlink';
import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, input, signal } from '@angular/core';
import type { Fix, Level } from '@nettlewick/core';
import { Editor } from '../state/editor';
import { WorkerGone } from '../workers/client';
import { workerFor } from '../workers/start';

/** What was found for a walk of a level as it was then. */
interface Found {
  level: Level;
  walk: string;
  fixes: readonly Fix[];
}

/** Small edits with which what is expected of a walk is met, found by trying them; with what else each changes, and a press to make it. */
@Component({
  selector: 'nw-fix-list',
  template: `
    @if (tried() !== null) {
      <p role="status">
        <span class="quiet">Trying small edits over all walks: {{ tried() }} so far.</span>
        <button type="button" class="button small" (click)="stop()">Stop</button>
      </p>
    } @else if (found() === null) {
      <p><button type="button" class="button first" (click)="search()">Find fixes</button></p>
    }
    @if (failure(); as text) {
      <p class="wrong" role="alert">{{ text }}</p>
    }
    @if (found(); as fixes) {
      <h3>{{ fixes.length === 0 ? 'No small edit meets what is expected' : 'Fixes that were tried' }}</h3>
      <ol aria-live="polite">
        @for (one of fixes; track one) {
          <li>
            <p class="answer-says says">{{ one.says }}</p>
            <p class="answer-tools">
              <span class="quiet">{{ outcome(one) }}</span>
              <button type="button" class="button small" (click)="editor.select(one.thing)">Show</button>
              <button type="button" class="button first small" (click)="editor.edit(one.edit)">Apply</button>
            </p>
            <details>
              <summary>What else changes</summary>
              @for (change of one.changes; track change.walk) {
                <p class="quiet">{{ editor.nameOf(change.walk) }}</p>
                <ul>
                  @for (line of change.says; track $index) {
                    <li>{{ line }}</li>
                  }
                </ul>
              }
            </details>
          </li>
        }
      </ol>
      @if (fixes.length === 0) {
        <p class="quiet">More than one thing is wrong, or something is missing. Ask “Why not?” about what was expected.</p>
      }
    }
  `,
  styles: `
    h3 {
      font-size: 14px;
      margin: 8px 0 0;
    }
    ol {
      margin: 4px 0;
      padding-left: 22px;
    }
    ol > li {
      padding: 6px 0;
      border-bottom: 1px dotted var(--line);
    }
    p {
      margin: 2px 0;
    }
    summary {
      cursor: pointer;
    }
    ul {
      margin: 0;
      padding-left: 18px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FixList {
  readonly walk = input.required<string>();
  protected readonly editor = inject(Editor);
  private readonly client = workerFor('study');
  private readonly latest = signal<Found | null>(null);
  /** How many edits were tried so far; null while none is. */
  protected readonly tried = signal<number | null>(null);
  protected readonly failure = signal<string | null>(null);
  /** What was found for the level and the walk as they are; null where nothing was looked for. */
  protected readonly found = computed(() => {
    const found = this.latest();
    return found?.level === this.editor.level() && found.walk === this.walk() ? found.fixes : null;
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => this.client.end());
  }

  protected async search(): Promise<void> {
    const level = this.editor.level();
    const walk = this.walk();
    this.failure.set(null);
    this.tried.set(0);
    const told = proxy((tried: number) => this.tried.update((now) => now && Math.max(now, tried)));
    try {
      const fixes = await this.client.ask(level, (remote) => remote.fixes(walk, told));
      this.latest.set({ level, walk, fixes });
    } catch (error) {
      if (!(error instanceof WorkerGone)) this.failure.set(error instanceof Error ? error.message : String(error));
    }
    this.tried.set(null);
  }

  protected stop(): void {
    this.client.end();
  }

  protected outcome({ meets, left }: Fix): string {
    if (left === 0) return 'Then every expectation is met.';
    return `Then ${meets.length} more ${meets.length === 1 ? 'is' : 'are'} met, ${left} not.`;
  }
}
