import type { Level, Rehearsal, Walk } from '@nettlewick/core';
import { entrySentence, nameOf, reasonOf } from '@nettlewick/core';
import junit from 'junit-report-builder';
import { oneLine, printable } from './printable';

/** Rehearsals as JUnit XML: a suite for each walk, a case for each expectation, with the entries that show a failure. */
export function junitXml(level: Level, rehearsed: readonly { walk: Walk; rehearsal: Rehearsal }[]): string {
  const builder = junit.newBuilder();
  for (const { walk, rehearsal } of rehearsed) {
    const seconds = rehearsal.ticks / rehearsal.rate;
    const suite = builder.testSuite().name(oneLine(walk.name.trim()));
    for (const { label, id, passed, because, entries } of rehearsal.expectations) {
      const one = suite
        .testCase()
        .className(oneLine(level.name.trim()))
        .name(oneLine(label === '' ? id : label))
        .time(seconds);
      if (passed) continue;
      const shown = entries.map((number) => {
        const entry = rehearsal.ledger.at(number)!;
        return `${number}. ${entry.seconds.toFixed(3)} s ${entrySentence(entry, (thing) => nameOf(level, thing))}`;
      });
      one.failure(printable([because, ...shown].join('\n')), 'expectation');
    }
    const last = rehearsal.ledger.at(rehearsal.ledger.length);
    if (last !== undefined && reasonOf(last) === 'runaway')
      suite.testCase().className(oneLine(level.name.trim())).name('comes to an end').failure('A tick ran away', 'runaway');
  }
  return builder.build();
}
