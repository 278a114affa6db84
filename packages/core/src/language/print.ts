import type { Chain } from '../document/chains';
import { factCollection } from '../document/create';
import type { StateKind } from '../document/create';
import type { Level, Thing } from '../document/level';
import { blankFact, causeLine, stepLine, writeFact, writeManner } from './lines';
import { TextNames } from './names';

/** The kinds of fact, in the order in which a text has them. */
export const factWords = Object.keys(factCollection) as StateKind[];

/** A part of a text: the paragraph of one thing. */
export interface Paragraph {
  /** The thing's id. */
  id: string;
  text: string;
}

/**
 * The wiring of a level as text: its facts, signals and watches, and its chains, one paragraph each with an empty line between. What is drawn
 * is named, and not described. The same level gives the same bytes; reading the text gives the same wiring. docs/prompt-book.md has the rules.
 */
export function printWiring(level: Level): string {
  return paragraphsOf(level)
    .map(({ text }) => text)
    .join('\n');
}

/** The paragraphs of the wiring of a level, in the order of the text. */
export function paragraphsOf(level: Level): Paragraph[] {
  const names = new TextNames(level);
  const facts = factWords.flatMap((word) =>
    (level[factCollection[word]] as Thing[]).map((thing) => ({ id: thing.id, text: printFact(word, thing, names) })),
  );
  return [...facts, ...level.chains.map((chain) => ({ id: chain.id, text: printChain(chain, names) }))];
}

function printFact(word: StateKind, thing: Thing, names: TextNames): string {
  const lines = writeFact(factCollection[word], thing, blankFact(word), names);
  return [`${word} ${headName(thing.name)}`, ...lines.map((line) => `  ${line}`), ''].join('\n');
}

/** One chain as a paragraph. */
export function printChain(chain: Chain, names: TextNames): string {
  const lines = [
    ...(chain.enabled ? [] : ['off']),
    ...chain.causes.map((cause) => causeLine.write(cause, names)),
    ...writeManner(chain, names),
  ].map((line) => `  ${line}`);
  chain.steps.forEach((step, at) => {
    const isBeside = step.start === 'with' && at > 0;
    const text = stepLine.write(isBeside ? { ...step, start: 'after' } : step, names);
    lines.push(`${isBeside ? '      ' : '    '}${text}`);
  });
  return [`chain ${headName(chain.name)}`, ...lines, ''].join('\n');
}

/** A name as it stands at the head of a paragraph: as it is, or in quotes where it has outer spaces or quotes of its own. */
function headName(name: string): string {
  return name.trim() !== name || name.startsWith('"') ? JSON.stringify(name) : name;
}
