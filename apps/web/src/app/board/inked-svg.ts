import { escaped } from './plan-svg';

/** What a drawing takes its ink from. */
const inked = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
] as const;

/** Words that stand to the left of a drawing, each at its height, in pixels. */
export interface Beside {
  width: number;
  words: readonly { text: string; y: number }[];
}

/** A drawing of the page as an SVG of its own: with the ink that it has there, on its paper, and words beside it. */
export function inkedSvg(drawing: SVGSVGElement, { width, words }: Beside): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const own = [...drawing.querySelectorAll('*')];
  [...copy.querySelectorAll('*')].forEach((one, at) => {
    const style = getComputedStyle(own[at]!);
    for (const property of inked) {
      const value = style.getPropertyValue(property);
      if (value !== '') one.setAttribute(property, value);
    }
    one.removeAttribute('class');
    titled(one);
  });
  const page = getComputedStyle(drawing.parentElement ?? drawing);
  const paper = getComputedStyle(document.documentElement).getPropertyValue('--floor').trim();
  const [wide, high] = [Number(drawing.getAttribute('width')) + width, Number(drawing.getAttribute('height'))];
  const inside = new XMLSerializer();
  const content = [...copy.childNodes].map((one) => inside.serializeToString(one)).join('');
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${wide} ${high}" width="${wide}" height="${high}" font-family="sans-serif" font-size="13">`,
    `<rect width="${wide}" height="${high}" fill="${paper}"/>`,
    ...words.map(({ text, y }) => `<text x="8" y="${y}" fill="${page.color}">${escaped(text)}</text>`),
    `<g transform="translate(${width} 0)">${content}</g>`,
    '</svg>',
  ].join('\n');
}

/** What the studio says in a tip a drawing of its own says in a title. */
function titled(one: Element): void {
  const tip = one.getAttribute('data-tip');
  if (tip === null) return;
  one.removeAttribute('data-tip');
  const title = document.createElementNS('http://www.w3.org/2000/svg', 'title');
  title.textContent = tip;
  one.prepend(title);
}
