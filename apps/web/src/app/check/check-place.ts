import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Router } from '@angular/router';
import type { Snag } from '@nettlewick/core';
import { Editor } from '../studio/editor';
import { Places } from '../studio/places';
import { Snags } from './snags';

/** The fourth place: what is wrong before anybody walks. For now, references that lead nowhere. */
@Component({
  selector: 'nw-check-place',
  template: `
    <div class="page">
      <h2>Broken references</h2>
      @if (looked.found() === null) {
        <p>Looking…</p>
      } @else if (snags().length === 0) {
        <p class="well">None. Every chain, walk and thing of this level names things that are there and of the right kind.</p>
      } @else {
        <p>{{ snags().length }} found. What they name does not answer: a chain like this does nothing, or never starts.</p>
        <ol>
          @for (snag of snags(); track snag.path) {
            <li>
              <p class="reason">{{ snag.reason }}</p>
              <p>
                {{ snag.mend }} <button type="button" class="button" (click)="go(snag)">Go there</button>
                <span class="path">{{ snag.path }}</span>
              </p>
            </li>
          }
        </ol>
      }
    </div>
  `,
  styles: `
    :host {
      display: block;
      height: 100%;
      overflow-y: auto;
      background: var(--floor);
    }
    .page {
      max-width: 78ch;
      padding: 24px 40px;
      font: 16px/1.5 var(--face-prose);
    }
    li {
      border-top: 1px solid var(--line);
      padding: 6px 0;
    }
    p {
      margin: 4px 0;
    }
    .reason {
      font-weight: 600;
      color: var(--pencil-red);
    }
    .well {
      color: var(--well);
    }
    .path {
      font: 12px var(--face-mono);
      color: var(--ink-soft);
      margin-left: 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CheckPlace {
  private readonly editor = inject(Editor);
  private readonly places = inject(Places);
  private readonly router = inject(Router);
  protected readonly snags = computed(() => this.looked.found() ?? []);
  protected readonly looked = inject(Snags);

  protected go(snag: Snag): void {
    const found = this.editor.find(snag.thing);
    if (found?.collection === 'walks') {
      void this.router.navigate(this.places.path('rehearse'), { queryParams: { walk: snag.thing } });
      return;
    }
    this.editor.select(snag.thing);
    void this.router.navigate(this.places.path(found?.collection === 'chains' ? 'wire' : 'draw'));
  }
}
