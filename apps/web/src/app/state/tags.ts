import { Injectable, computed, inject } from '@angular/core';
import { nearest } from '@nettlewick/core';
import { Editor } from './editor';

/** The tags that the level uses, anywhere. */
@Injectable()
export class Tags {
  private readonly editor = inject(Editor);

  /** Each once, by the alphabet. */
  readonly all = computed<readonly string[]>(() => {
    const { zones, fixtures, visitors, chains } = this.editor.level();
    const found = new Set<string>();
    for (const { tags } of [...zones, ...fixtures, ...visitors]) for (const tag of tags) found.add(tag);
    for (const fixture of fixtures) if ('letsThrough' in fixture) for (const tag of fixture.letsThrough.tags) found.add(tag);
    for (const { causes, steps } of chains) {
      for (const { filter } of causes) for (const tag of [...filter.anyOf, ...filter.allOf, ...filter.noneOf]) found.add(tag);
      for (const step of steps) {
        if ('tagged' in step && step.tagged !== '') found.add(step.tagged);
        if ('who' in step && step.who.by === 'tag') found.add(step.who.tag);
      }
    }
    return [...found].sort((a, b) => a.localeCompare(b));
  });

  /** The tag of `known` that a new one differs from only by capitals, spaces or a letter or two, if there is one. */
  like(tag: string, known: readonly string[]): { tag: string; meant: string } | null {
    if (known.includes(tag)) return null;
    const bare = (text: string): string => text.toLowerCase().replace(/[\s_-]/g, '');
    const meant = known.find((one) => bare(one) === bare(tag)) ?? (tag.length > 3 ? nearest(tag, known) : null);
    return meant === null || meant === tag ? null : { tag, meant };
  }
}
