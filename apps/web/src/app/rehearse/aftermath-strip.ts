import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Editor } from '../state/editor';
import { NextStep } from '../editing/next-step';
import { EditImpactStore } from '../state/aftermaths';

/** What the latest edit changed in what fires, in words: before it is rehearsed by hand, or saved under a name. */
@Component({
  selector: 'nw-aftermath-strip',
  template: `
    <p role="status">
      @if (changes().length > 0) {
        <b>This edit changes what fires.</b>
        <span class="change"
          >{{ changes()[0]!.says }} <em>({{ changes()[0]!.walks }})</em></span
        >
        @if (changes().length > 1) {
          <button type="button" class="button small" [attr.aria-expanded]="all()" (click)="all.set(!all())">
            {{ all() ? 'Less' : 'and ' + (changes().length - 1 + more()) + ' more' }}
          </button>
        }
        <button type="button" class="button bare small" (click)="dismiss()">Dismiss</button>
        @if (next(); as step) {
          <span class="quiet change">Next: {{ step.says }}</span>
        }
      } @else {
        <span class="quiet">{{ rests() }}</span>
      }
    </p>
    @if (all() && changes().length > 1) {
      <ul>
        @for (one of changes(); track one.says) {
          <li>
            {{ one.says }} <em>({{ one.walks }})</em>
          </li>
        }
        @if (more() > 0) {
          <li class="quiet">{{ more() }} minor changes in Compare</li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      display: block;
      position: relative;
      background: var(--sheet);
      border-top: 1px solid var(--line);
      font: 13px/26px var(--face-label);
    }
    p {
      display: flex;
      gap: 12px;
      align-items: center;
      height: 26px;
      margin: 0;
      padding: 0 12px;
      white-space: nowrap;
    }
    .change,
    .quiet {
      min-width: 0;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    ul {
      position: absolute;
      z-index: 20;
      left: 8px;
      bottom: 100%;
      max-width: calc(100% - 16px);
      max-height: 50vh;
      overflow-y: auto;
      margin: 0 0 4px;
      padding: 6px 14px 6px 26px;
      background: var(--card);
      border: 1px solid var(--ink-soft);
      box-shadow: 3px 3px 0 var(--shade);
      line-height: 1.5;
    }
    em {
      color: var(--ink-soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EditImpactBar {
  private readonly aftermaths = inject(EditImpactStore);
  private readonly editor = inject(Editor);
  protected readonly next = inject(NextStep).now;
  protected readonly all = signal(false);
  protected readonly changes = computed(() =>
    (this.aftermaths.found()?.changes ?? []).map(({ says, walks }) => ({
      says,
      walks: walks.length === 1 ? this.editor.nameOf(walks[0]!).trim() : `${walks.length} walks`,
    })),
  );
  protected readonly more = computed(() => this.aftermaths.found()?.more ?? 0);
  /** What the line says while nothing has changed: it keeps its room, so that the sheet stays where it is. */
  protected readonly rests = computed(() => {
    const next = this.next();
    if (next !== null) return `Next: ${next.says}`;
    if (this.aftermaths.found() === null) return 'After each edit, all walks are rerun and changes are listed here.';
    const unmet = this.aftermaths.unmet();
    return unmet === 0 ? 'No change in any walk.' : `${unmet} ${unmet === 1 ? 'expectation' : 'expectations'} failed.`;
  });

  protected dismiss(): void {
    this.all.set(false);
    this.aftermaths.dismiss();
  }
}
