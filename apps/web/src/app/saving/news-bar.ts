import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { lookup } from '@nettlewick/core';
import type { Level, Overwritten } from '@nettlewick/core';
import type { News } from '../state/level-state';
import { LevelStore } from '../state/level-store';
import { renamedText } from './replayed';

/** The number of things named; the rest is counted. */
const NAMED_AT_MOST = 3;

/** Says what became of one's own edits when another window edited the same things; its own value can be restored. */
@Component({
  selector: 'nw-news-bar',
  template: `
    @if (news(); as news) {
      <div class="notice-bar" role="status">
        @for (line of lines(); track line) {
          <span>{{ line }}</span>
        }
        @if (news.restore !== null) {
          <button type="button" class="button first" (click)="store.restoreOverwritten()">
            {{ news.overwritten.length === 1 ? 'Restore my value' : 'Restore my values' }}
          </button>
        }
        <button type="button" class="button" (click)="store.readNews()">OK</button>
      </div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewsBar {
  protected readonly store = inject(LevelStore);
  protected readonly news = this.store.news;
  protected readonly lines = computed(() => {
    const [news, level] = [this.news(), this.store.level()];
    return news === null || level === null ? [] : newsText(news, level);
  });
}

/** What is said of the news, a sentence for each kind. */
export function newsText({ overwritten, lost, renamed }: News, level: Level): string[] {
  const deleted = listed(lost.filter(({ why }) => why === 'deleted').map(({ name }) => `“${name.trim()}”`));
  const invalid = listed(lost.filter(({ why }) => why === 'invalid').map(({ name }) => `“${name.trim()}”`));
  const names = renamedText(renamed);
  return [
    ...(overwritten.length === 0
      ? []
      : [`Another window changed ${listed(overwritten.map((one) => fieldText(one, level)))!} at the same time as you.`]),
    ...(deleted === null ? [] : [`Another window deleted ${deleted}, which you were editing.`]),
    ...(invalid === null ? [] : [`Your change of ${invalid} was dropped: it is not valid with the other window’s change.`]),
    ...(names === null ? [] : [names]),
  ];
}

function fieldText({ id, field }: Overwritten, level: Level): string {
  const word = field === 'at' ? 'position' : field.replace(/([A-Z])/g, ' $1').toLowerCase();
  const name = id === '' ? 'the level' : `“${lookup(level).get(id)?.thing.name.trim() ?? id}”`;
  return `the ${word} of ${name}`;
}

/** A list in a sentence; null for none. */
function listed(all: readonly string[]): string | null {
  const different = [...new Set(all)];
  if (different.length === 0) return null;
  const shown = different.slice(0, NAMED_AT_MOST);
  const more = different.length - shown.length;
  const parts = more > 0 ? [...shown, `${more} more`] : shown;
  return parts.length === 1 ? parts[0]! : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)!}`;
}
