export { completionsOf, conditionCompletions } from './complete';
export type { Completions } from './complete';
export { readLine, readNewChain, readWiring } from './read';
export type { ReadOptions, TextChanges, TextFault, WiringRead } from './read';
export { mergedText } from './merge';
export { factWords, paragraphsOf, printWiring } from './print';
export type { Paragraph as TextParagraph } from './print';
