import type { Edit, Fields } from '../document/edit';
import { collections } from '../document/level';
import type { AcceptedFinding, Level, Thing } from '../document/level';
import { wordOf } from '../document/lookup';

/** What an edit does, in few words: "move Doorstep", "add plate Sack plate". `level` is one that has what the edit names, if any has. */
export function editPhrase(level: Level, edit: Edit): string {
  switch (edit.kind) {
    case 'add':
      return `add ${wordOf(edit.collection, edit.thing)} ${edit.thing.name.trim()}`;
    case 'remove':
      return `delete ${wordOf(edit.collection, edit.thing)} ${edit.thing.name.trim()}`;
    case 'change':
      return changePhrase(named(level, edit.id), edit.before, edit.after);
    case 'move':
      return `move ${named(level, edit.id)} in its list`;
    case 'level': {
      const fields = Object.keys(edit.after);
      if (fields.length === 1 && fields[0] === 'name') return 'rename the level';
      if (fields.length === 1 && fields[0] === 'accepted') return acceptedPhrase(edit.before, edit.after);
      return `change the ${fields.join(', ')} of the level`;
    }
    case 'all':
      return edit.edits.length === 1 ? editPhrase(level, edit.edits[0]!) : `${edit.label} ${edit.edits.length} things`;
  }
}

function acceptedPhrase(before: Fields, after: Fields): string {
  const count = (fields: Fields): number => (fields['accepted'] as AcceptedFinding[] | undefined)?.length ?? 0;
  return count(after) < count(before) ? 'no longer accept a finding' : 'accept a finding';
}

function changePhrase(name: string, before: Record<string, unknown>, after: Record<string, unknown>): string {
  const fields = Object.keys(after);
  const only = (...wanted: string[]): boolean => fields.every((field) => wanted.includes(field));
  if (only('name')) return `rename ${String(before['name']).trim()} to ${String(after['name']).trim()}`;
  if (only('at')) return `move ${name}`;
  if (only('heading')) return `turn ${name}`;
  if (only('at', 'size', 'shape')) return `resize ${name}`;
  return `change ${name}: ${fields.map((field) => field.replace(/([A-Z])/g, ' $1').toLowerCase()).join(', ')}`;
}

/** Looked up one by one: an edit names few things, and a level that was just edited has no table of them yet. */
function named(level: Level, id: string): string {
  for (const collection of collections) {
    const found = (level[collection] as Thing[]).find((thing) => thing.id === id);
    if (found !== undefined) return found.name.trim();
  }
  return 'what is gone';
}
