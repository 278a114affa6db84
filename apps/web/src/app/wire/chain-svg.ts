import { chainSentence, spoken, stepPhrase, timeline } from '@nettlewick/core';
import type { Chain, Level } from '@nettlewick/core';
import { scaleLinear } from 'd3-scale';
import { inks } from '../board/plan-svg';
import { sheetSvg, wordsSvg, wrapped } from '../board/words-svg';

const WIDTH = 900;
const LEFT = 430;
const LINE = 18;

/** A chain as an SVG of its own: its sentence, and its steps as blocks on a time ruler. */
export function chainSvg(level: Level, chain: Chain, nameOf: (id: string) => string): string {
  const spans = timeline(level, chain);
  const seconds = Math.max(1, ...spans.map(({ end }) => end)) * 1.1;
  const across = scaleLinear()
    .domain([0, seconds])
    .range([LEFT, WIDTH - 20]);
  const said = wrapped(chainSentence(chain, nameOf), 120);
  const content = [wordsSvg(chain.name.trim(), 12, 26, 'font-size="17" font-weight="600"')];
  said.forEach((line, at) => content.push(wordsSvg(line, 12, 50 + at * LINE)));
  let y = 50 + said.length * LINE + 8;
  const ticks = across.ticks(8);
  content.push(...ticks.map((value) => wordsSvg(`${value} s`, across(value) + 3, y + 8, 'font-size="10"')));
  const from = y;
  y += 14;
  chain.steps.forEach((step, at) => {
    const { start, end } = spans[at]!;
    const lines = wrapped(`${at + 1}  ${spoken(stepPhrase(step), nameOf)}`, 60);
    lines.forEach((line, i) => content.push(wordsSvg(line, 12, y + 14 + i * LINE)));
    const x = across(start);
    content.push(
      end > start
        ? `<rect x="${x}" y="${y + 2}" width="${across(end) - x}" height="15" fill="none" stroke="${inks.ink}" stroke-width="1.5"/>`
        : `<path d="M${x} ${y}V${y + 19}" stroke="${inks.ink}" stroke-width="2"/>`,
    );
    y += Math.max(1, lines.length) * LINE + 6;
  });
  const grid = ticks.map((value) => `<path d="M${across(value)} ${from}V${y}" stroke="${inks.hatch}"/>`);
  return sheetSvg(WIDTH, y + 12, chain.name.trim(), [...grid, ...content]);
}
