import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Editor } from '../state/editor';
import { FindingsStore } from '../state/findings-store';

/** The number of items listed beside the thing. */
const LISTED = 6;

/** What is found wrong about one thing, where the thing is edited: with its mend. */
@Component({
  selector: 'nw-finding-notes',
  template: `
    @for (finding of findings(); track finding.kind + finding.path) {
      <p class="{{ finding.weight }}">
        <b>{{ finding.weight }}:</b> {{ finding.reason }} {{ finding.mend }}
        @if (finding.edit; as edit) {
          <button type="button" class="button small" [disabled]="!looked.isTried(finding)" (click)="editor.edit(edit)">
            Fix
          </button>
        }
      </p>
    }
    @if (all().length > listed) {
      <p class="remark">{{ all().length - listed }} more in Check.</p>
    }
  `,
  styles: `
    p {
      margin: 6px 0;
      padding: 4px 8px;
      border-left: 3px solid var(--held);
      background: var(--sheet);
      font: 14px/1.4 var(--face-label);
    }
    p.fault {
      border-left-color: var(--pencil-red);
    }
    p.remark {
      border-left-style: dotted;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FindingNotes {
  readonly thing = input.required<string>();
  protected readonly editor = inject(Editor);
  protected readonly looked = inject(FindingsStore);
  protected readonly listed = LISTED;
  protected readonly all = computed(() => this.looked.about(this.thing()));
  protected readonly findings = computed(() => this.all().slice(0, LISTED));
}
