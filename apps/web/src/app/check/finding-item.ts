import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { accepting, reopening } from '@nettlewick/core';
import type { Finding, WalkFinding } from '@nettlewick/core';
import { Views } from '../editing/views';
import { Editor } from '../state/editor';
import { FindingsStore } from '../state/findings-store';

/** A finding in the list. `number` is its pin on the plan; `note` is null unless it was accepted. */
export interface Listed {
  finding: Finding | WalkFinding;
  number: number;
  key: string;
  note: string | null;
}

/** One finding: what is wrong, what to do about it, and buttons to fix, show or accept it. */
@Component({
  selector: 'nw-finding-item',
  template: `
    <p class="reason {{ finding().weight }}">
      <button
        type="button"
        class="flag"
        [attr.aria-label]="'Show finding ' + listed().number + ' on the plan'"
        (click)="shown.emit()"
      >
        {{ listed().number }}
      </button>
      <span>{{ finding().reason }}</span>
    </p>
    <div class="mend">
      @if (listed().note; as note) {
        <span class="note">Accepted: {{ note }}</span>
      } @else {
        <span>{{ isAccepted() ? 'Accepted.' : finding().mend }}</span>
      }
      @if (isAccepted()) {
        <button type="button" class="button small" (click)="reopen()">Check again</button>
      } @else if (finding().edit !== null) {
        <button
          type="button"
          class="button first small"
          [disabled]="!isTried()"
          [title]="isTried() ? 'Tried over all walks: no expectation fails' : 'Being tried over all walks…'"
          (click)="fix()"
        >
          Fix
        </button>
      }
      @if (walk(); as id) {
        <button type="button" class="button small" (click)="views.rehearse(id, tick())">Show in Rehearse</button>
      } @else {
        <button type="button" class="button small" (click)="views.show(finding().thing)">Go there</button>
        @if (isOfWalks()) {
          <button type="button" class="button small" (click)="views.askWhy(finding().thing)">Why not?</button>
        }
      }
      @if (!isAccepted() && finding().weight !== 'fault' && !isNoting()) {
        <button type="button" class="button small" (click)="isNoting.set(true)">Accept…</button>
      }
    </div>
    @if (isNoting()) {
      <form class="mend" (submit)="$event.preventDefault(); accept(field.value)" (keydown.escape)="isNoting.set(false)">
        <label>
          Why it is meant so
          <input #field class="field" maxlength="500" autocomplete="off" autofocus />
        </label>
        <button type="submit" class="button first small">Accept</button>
        <button type="button" class="button small" (click)="isNoting.set(false)">Cancel</button>
      </form>
    }
  `,
  styleUrl: './finding-item.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FindingItem {
  readonly listed = input.required<Listed>();
  readonly shown = output();
  protected readonly views = inject(Views);
  private readonly editor = inject(Editor);
  private readonly findings = inject(FindingsStore);
  protected readonly isNoting = signal(false);
  protected readonly finding = computed(() => this.listed().finding);
  protected readonly isAccepted = computed(() => this.listed().note !== null);
  protected readonly isTried = computed(() => this.findings.isTried(this.finding()));
  protected readonly isOfWalks = computed(() => 'walk' in this.finding());
  /** The walk that shows it, and when; null for findings in the document. */
  protected readonly walk = computed(() => walkOf(this.finding())?.walk ?? null);
  protected readonly tick = computed(() => walkOf(this.finding())?.tick ?? null);

  protected fix(): void {
    const { edit } = this.finding();
    if (edit !== null) this.editor.edit(edit);
  }

  protected accept(note: string): void {
    this.isNoting.set(false);
    this.editor.edit(accepting(this.editor.level(), this.finding(), note.trim()));
  }

  protected reopen(): void {
    this.editor.edit(reopening(this.editor.level(), this.finding()));
  }
}

function walkOf(finding: Finding | WalkFinding): WalkFinding | null {
  return 'walk' in finding ? finding : null;
}
