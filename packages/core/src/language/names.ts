import { withIds } from '../conditions/by-names';
import { idsByTag } from '../conditions/known';
import { lookup } from '../document/lookup';
import type { Lookup } from '../document/lookup';
import type { Level } from '../document/level';
import { NAME_MOST, nameKey } from '../vocabulary/quantities';

/** A thing by the name that the text has for it. */
export interface NamedThing {
  id: string;
  /** Its name without outer spaces. */
  name: string;
  /** Whether the name leads to it, and to nothing else. */
  isSure: boolean;
}

/** The names of a level as its wiring as text has them. */
export class TextNames {
  private readonly byKind = new Map<string, NamedThing[]>();
  /** The names that stand for one thing, with the thing; those of several things are not among them. */
  private readonly byName = new Map<string, string>();
  private readonly lists = new Map<string, readonly NamedThing[]>();
  readonly things: Lookup;
  /** The tags of its zones, fixtures and visitors, each once. */
  readonly tags: readonly string[];

  /** `renamed` has new names of things that the level still has by their old ones: both are read. */
  constructor(level: Level, renamed: ReadonlyMap<string, string> = new Map()) {
    this.things = lookup(level);
    this.tags = [...idsByTag(this.things).keys()];
    const taken = new Map<string, number>();
    for (const [id, { thing }] of this.things) {
      const name = thing.name.trim();
      const key = nameKey(name);
      taken.set(key, (taken.get(key) ?? 0) + 1);
      this.byName.set(key, id);
      const own = renamed.get(id);
      if (own !== undefined && !taken.has(nameKey(own))) this.byName.set(nameKey(own), id);
    }
    for (const [key, count] of taken) if (count > 1) this.byName.delete(key);
    for (const [id, { thing, word }] of this.things) {
      const list = this.byKind.get(word) ?? [];
      for (const name of [thing.name, renamed.get(id)]) {
        if (name === undefined) continue;
        const isSure = isPlain(name.trim()) && this.byName.get(nameKey(name)) === id;
        list.push({ id, name: name.trim(), isSure });
      }
      this.byKind.set(word, list);
    }
  }

  /** What a thing is called: its name; its id after a #, where the name would not lead back to it. */
  textOf = (id: string, accepts?: readonly string[]): string => {
    if (id === '') return NOTHING;
    const found = this.things.get(id);
    const name = found?.thing.name.trim() ?? '';
    // What cannot be meant here is not found by its name.
    if (found !== undefined && accepts?.includes(found.word) === false) return `#${id}`;
    return isPlain(name) && this.byName.get(nameKey(name)) === id ? name : `#${id}`;
  };

  /** The things of some kinds, those with the longest names first. */
  of(accepts: readonly string[]): readonly NamedThing[] {
    const key = accepts.join();
    let found = this.lists.get(key);
    if (found === undefined) {
      found = accepts.flatMap((word) => this.byKind.get(word) ?? []).sort((a, b) => b.name.length - a.name.length);
      this.lists.set(key, found);
    }
    return found;
  }

  /** The things of some kinds with whose name a text begins, the longest name first: how many characters that takes. */
  begunBy(text: string, accepts: readonly string[]): { length: number; id: string }[] {
    const found: { length: number; id: string }[] = [];
    for (let length = Math.min(text.length, NAME_MOST); length > 0; length--) {
      if (text[length - 1] === ' ') continue;
      const id = this.byName.get(nameKey(text.slice(0, length)));
      const thing = id === undefined ? undefined : this.things.get(id);
      if (thing !== undefined && accepts.includes(thing.word) && isPlain(text.slice(0, length))) found.push({ length, id: id! });
    }
    return found;
  }

  /** A condition by names, as long as they lead back to the same ids. What is compared with a text is no name. */
  conditionText(condition: string): string {
    const byNames = withIds(condition, (id) => {
      const text = this.things.has(id) ? this.textOf(id) : '';
      return text === '' || /^#|["']/.test(text) ? null : text;
    });
    return this.condition(byNames) === condition ? byNames : condition;
  }

  /** A condition that is written by names, by ids. */
  condition(text: string): string {
    return withIds(text, (name) => this.byName.get(nameKey(name)) ?? null);
  }

  /** Fields as JSON, with `{"named":"Market day"}` in place of the id of a thing, as long as that leads back to it. */
  fieldsText(fields: object): string {
    return JSON.stringify(fields, (key, value: unknown) => {
      if (typeof value !== 'string' || key === 'named' || !this.things.has(value)) return value;
      const named = this.textOf(value);
      return named.startsWith('#') ? value : { named };
    });
  }

  /** The fields of such a text, by ids; null if it cannot be read. */
  fields(json: string): object | null {
    try {
      return JSON.parse(json, (_key, value: unknown) => {
        if (value === null || typeof value !== 'object' || Object.keys(value).join() !== 'named') return value;
        return this.byName.get(nameKey(String((value as { named: unknown }).named))) ?? value;
      }) as object;
    } catch {
      return null;
    }
  }
}

/** What stands where nothing has been chosen yet. */
export const NOTHING = '(nothing)';

/** Whether a name can stand in a sentence as it is: it has no double spaces, which a sentence does not keep, and does not look like an id. */
function isPlain(name: string): boolean {
  return name !== '' && !/^#|\s\s|[^\S ]/.test(name);
}
