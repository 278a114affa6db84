import { ChangeDetectionStrategy, Component, computed, input, signal } from '@angular/core';
import { chainSentence, collectionWord, describe, differences, differingFieldsOfLevel, nameOf, spoken } from '@nettlewick/core';
import type { Chain, Collection, Level, Thing } from '@nettlewick/core';
import { NzTableModule } from 'ng-zorro-antd/table';
import { Pager, partOf } from '../controls/pager';

/** The number of differences shown at once. */
const PAGE_SIZE = 100;

/** Two versions of one level side by side: what differs, thing by thing, in sentences. */
@Component({
  selector: 'nw-level-differences',
  imports: [NzTableModule, Pager],
  template: `
    <nw-pager what="differences" [total]="rows().length" [size]="atOnce" [(at)]="from" />
    <div class="table" tabindex="0">
      <nz-table nzTemplateMode nzSize="small" [nzShowPagination]="false">
        <thead>
          <tr>
            <th scope="col">differs</th>
            <th scope="col">{{ firstTitle() }}</th>
            <th scope="col">{{ secondTitle() }}</th>
          </tr>
        </thead>
        <tbody>
          @for (row of shown(); track row.id) {
            <tr>
              <th scope="row">
                {{ row.name }} <em>{{ row.word }}</em>
              </th>
              <td>{{ row.first }}</td>
              <td>{{ row.second }}</td>
            </tr>
          } @empty {
            <tr>
              <td colspan="3">{{ nothing() }}</td>
            </tr>
          }
        </tbody>
      </nz-table>
    </div>
  `,
  styleUrl: './level-differences.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LevelDifferences {
  readonly first = input.required<Level>();
  readonly second = input.required<Level>();
  readonly firstTitle = input.required<string>();
  readonly secondTitle = input.required<string>();
  /** What is said where no thing differs. */
  readonly nothing = input('Only the list order differs.');
  protected readonly rows = computed(() => {
    const [first, second] = [this.first(), this.second()];
    const own = differingFieldsOfLevel(first, second).map((field) => ({
      id: field,
      name: field.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`),
      word: 'of the level',
      first: brief(first[field]),
      second: brief(second[field]),
    }));
    const things = differences(first, second).map(({ id, collection, first: one, second: other, fields }) => {
      const here = one === null ? null : sentences(first, collection, one);
      const there = other === null ? null : sentences(second, collection, other);
      return {
        id,
        name: (one ?? other)?.name ?? id,
        word: collectionWord[collection],
        first: only(here, there, fields),
        second: only(there, here, fields),
      };
    });
    return [...own, ...things];
  });
  protected readonly from = signal(0);
  protected readonly atOnce = PAGE_SIZE;
  protected readonly shown = computed(() => partOf(this.rows(), this.from(), PAGE_SIZE));
}

/** A value of the level in a few words. */
function brief(value: unknown): string {
  return JSON.stringify(value).replace(/[{}"]/g, ' ').replace(/\s+/g, ' ').trim();
}

/** A thing in plain sentences. */
function sentences(level: Level, collection: Collection, thing: Thing): string[] {
  const named = (id: string): string => nameOf(level, id);
  const said =
    collection === 'chains'
      ? [chainSentence(thing as Chain, named)]
      : describe(collection, thing).map((phrase) => spoken(phrase, named));
  return [`Named ${thing.name}`, ...said];
}

/** The sentences of one side that the other does not say; or which fields differ, where no sentence tells. */
function only(side: string[] | null, other: string[] | null, fields: readonly string[]): string {
  if (side === null) return 'Missing';
  if (other === null) return 'It is there.';
  const own = side.filter((sentence) => !other.includes(sentence));
  return own.length > 0 ? own.join(' ') : `It differs in: ${fields.join(', ')}.`;
}
