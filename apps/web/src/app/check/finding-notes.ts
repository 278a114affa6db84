import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Editor } from '../studio/editor';
import { Snags } from './snags';

/** What is found wrong about one thing, where the thing is edited: with its mend. */
@Component({
  selector: 'nw-finding-notes',
  template: `
    @for (finding of findings(); track finding.kind + finding.path) {
      <p class="{{ finding.weight }}">
        <b>{{ finding.weight }}:</b> {{ finding.reason }} {{ finding.mend }}
        @if (finding.edit; as edit) {
          <button type="button" class="button small" (click)="editor.edit(edit)">Mend it</button>
        }
      </p>
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
  private readonly looked = inject(Snags);
  protected readonly findings = computed(() => this.looked.about(this.thing()).slice(0, 6));
}
