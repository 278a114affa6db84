/**
 * A text that is being typed, after the level was changed by somebody else: paragraphs that stand as they were printed become what is printed
 * now, new ones come at the end, and those that are gone go; what was typed stays as it is.
 */
export function mergedText(before: string, typed: string, now: string): string {
  const [old, printed] = [paragraphsByHead(before), paragraphsByHead(now)];
  const own = paragraphs(typed);
  const known = new Set(own.map(headOf));
  const kept = own.flatMap((text) => {
    const head = headOf(text);
    if (old.get(head) !== bare(text)) return [text];
    const next = printed.get(head);
    return next === undefined ? [] : [next === bare(text) ? text : `${next}\n\n`];
  });
  const added = [...printed].flatMap(([head, text]) => (old.has(head) || known.has(head) ? [] : [`${text}\n\n`]));
  if (added.length > 0 && kept.length > 0) kept.push(`${bare(kept.pop()!)}\n\n`);
  // Somebody may be typing in the last line, so its end is kept unless something follows.
  const end = added.length > 0 ? '\n' : /\s*$/.exec(typed)![0];
  return `${[...kept, ...added].join('').trimEnd()}${end}`;
}

/** The paragraphs of a text, each with what is between it and the next. */
function paragraphs(text: string): string[] {
  return text.split(/^(?=\S)(?!\/\/)/m).filter((part) => part !== '');
}

function paragraphsByHead(text: string): Map<string, string> {
  return new Map(paragraphs(text).map((part) => [headOf(part), bare(part)]));
}

function headOf(paragraph: string): string {
  return paragraph.split('\n', 1)[0]!.trim().toLowerCase();
}

function bare(paragraph: string): string {
  return paragraph.trimEnd();
}
