import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { actedOn, connections, referencesOf } from '@nettlewick/core';
import type { Chain } from '@nettlewick/core';
import { Editor } from '../state/editor';
import { Views } from './views';
import { Rooms } from '../state/rooms';

interface Group {
  title: string;
  links: { id: string; name: string; word: string; missing: boolean }[];
  more: number;
}

/** The number of items listed of each kind. */
const LISTED = 60;

/** What a thing or a chain is connected to, in both directions; each is one click away. */
@Component({
  selector: 'nw-connection-list',
  template: `
    @for (group of groups(); track group.title) {
      <p class="title">{{ group.title }}</p>
      <ul>
        @for (link of group.links; track link.id) {
          <li>
            <button type="button" [class.missing]="link.missing" [disabled]="link.missing" (click)="go(link.id)">
              {{ link.name }}<em>{{ link.word }}</em>
            </button>
          </li>
        }
        @if (group.more > 0) {
          <li class="quiet">and {{ group.more }} more</li>
        }
      </ul>
    }
  `,
  styles: `
    .title {
      margin: 12px 0 0;
      color: var(--ink-soft);
      font-size: 14px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    button {
      border: 0;
      background: none;
      padding: 2px 0;
      color: var(--pencil-blue);
      cursor: pointer;
      text-align: left;
      font: 400 15px var(--face-prose);
      text-decoration: underline;
      text-underline-offset: 3px;
    }
    button.missing {
      color: var(--pencil-red);
      text-decoration: line-through;
    }
    em {
      margin-left: 8px;
      color: var(--ink-soft);
      font-size: 13px;
      display: inline-block;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConnectionList {
  readonly thing = input.required<string>();
  private readonly editor = inject(Editor);
  private readonly places = inject(Views);
  private readonly rooms = inject(Rooms);

  protected readonly groups = computed<Group[]>(() => {
    const id = this.thing();
    const level = this.editor.level();
    const found = this.editor.find(id);
    if (found === undefined) return [];
    if (found.collection === 'chains') {
      const from = referencesOf(found.collection, found.thing).filter(
        ({ role, to }) => role !== 'guard' || this.editor.find(to) !== undefined,
      );
      const to = (role: string): string[] => [
        ...new Set(from.filter((reference) => reference.role === role).map((reference) => reference.to)),
      ];
      const { steps } = found.thing as Chain;
      const acted = [...new Set(steps.flatMap((step) => actedOn(level, step)).filter((one) => one !== null))];
      // What its places are counted from, or the room in which they lie, is not acted on.
      const rest = to('step').filter((one) => !acted.includes(one) && !this.isWhere(to('cause'), one));
      return this.filled(['Triggered by', to('cause')], ['Asks', to('guard')], ['Acts on', acted], ['Also refers to', rest]);
    }
    const { setsOff, askedBy, actedOnBy, namedBy, walkedIn } = connections(level, id);
    return this.filled(
      ['Triggers', setsOff],
      ['Read by', askedBy],
      ['Acted on by', actedOnBy],
      ['Also referenced by', namedBy],
      ['Used in walks', walkedIn],
    );
  });

  /** A thing that stands somewhere is taken in hand where it is asked for; chains and walks have places of their own. */
  protected go(id: string): void {
    const collection = this.editor.find(id)?.collection;
    if (collection === 'chains' || collection === 'walks') this.places.show(id);
    else this.rooms.takeInHand(id);
  }

  /** Whether something is the room in which others stand. */
  private isWhere(things: readonly string[], room: string): boolean {
    return things.some((id) => (this.editor.find(id)?.thing as { room?: string } | undefined)?.room === room);
  }

  private filled(...groups: [string, string[]][]): Group[] {
    return groups
      .filter(([, ids]) => ids.length > 0)
      .map(([title, ids]) => ({
        title,
        more: Math.max(0, ids.length - LISTED),
        links: ids.slice(0, LISTED).map((id) => {
          const found = this.editor.find(id);
          return { id, name: this.editor.nameOf(id), word: found?.word ?? '', missing: found === undefined };
        }),
      }));
  }
}
