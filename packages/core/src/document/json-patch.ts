import { pointer } from '../vocabulary/paths';
import { fieldsOf, indexOf } from './edit';
import type { Edit, Fields } from './edit';
import type { Level } from './level';

/** One operation of a JSON Patch (RFC 6902) on the document of a level. */
export type PatchOperation =
  | { op: 'add' | 'replace'; path: string; value: unknown }
  | { op: 'remove'; path: string }
  | { op: 'move'; from: string; path: string };

/** What an edit does, as a JSON Patch on the level that it is made on. Throws an EditError where it names what is not there. */
export function jsonPatchOf(level: Level, edit: Edit): PatchOperation[] {
  switch (edit.kind) {
    case 'add':
      return [{ op: 'add', path: pointer([edit.collection, edit.index]), value: edit.thing }];
    case 'remove':
      return [{ op: 'remove', path: pointer([edit.collection, indexOf(level, edit.collection, edit.thing.id)]) }];
    case 'move':
      return [{ op: 'move', from: pointer([edit.collection, edit.from]), path: pointer([edit.collection, edit.to]) }];
    case 'change': {
      const at = indexOf(level, edit.collection, edit.id);
      return fieldsOf(edit).map((field) => given([edit.collection, at], field, edit));
    }
    case 'level':
      return fieldsOf(edit).map((field) => given([], field, edit));
    case 'all':
      return edit.edits.flatMap((one) => jsonPatchOf(level, one));
  }
}

function given(
  owner: readonly PropertyKey[],
  field: string,
  { before, after }: { before: Fields; after: Fields },
): PatchOperation {
  const path = pointer([...owner, field]);
  if (after[field] === undefined) return { op: 'remove', path };
  return { op: before[field] === undefined ? 'add' : 'replace', path, value: after[field] };
}
