import { escaped, inks } from './plan-svg';

/** A letter of the size that drawings are written in is about so wide, in pixels. */
const LETTER = 6.7;

/** A text in lines of at most so many letters, cut between words. */
export function wrapped(text: string, letters: number): string[] {
  const lines: string[] = [];
  for (const word of text.split(' ')) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= letters) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}

/** How wide a text is drawn, in pixels; about. */
export function widthOf(text: string): number {
  return text.length * LETTER;
}

/** A drawing on paper, by its size in pixels and what is on it. */
export function sheetSvg(width: number, height: number, title: string, content: readonly string[]): string {
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="sans-serif" font-size="13" role="img">`,
    `<title>${escaped(title)}</title>`,
    `<rect width="${width}" height="${height}" fill="${inks.paper}"/>`,
    ...content,
    '</svg>',
  ].join('\n');
}

/** Words on a drawing, from a point to the right, or with more that is said of them. */
export function wordsSvg(text: string, x: number, y: number, more = ''): string {
  return `<text x="${x.toFixed(1)}" y="${y.toFixed(1)}" fill="${inks.ink}"${more === '' ? '' : ` ${more}`}>${escaped(text)}</text>`;
}
