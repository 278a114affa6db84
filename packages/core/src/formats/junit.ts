import xml from 'xmlbuilder';
import type { XMLElement } from 'xmlbuilder';
import type { Level } from '../document/level';
import { nameOf } from '../document/lookup';
import type { Walk } from '../document/walks';
import { reasonOf } from '../ledger/entry';
import { entrySentence } from '../reading/entries';
import type { Rehearsal } from '../rehearsal/rehearse';
import { oneLine, xmlText } from '../vocabulary/printable';

/** What of a rehearsal is told. */
type Ended = Pick<Rehearsal, 'ledger' | 'expectations' | 'ticks' | 'rate'>;

interface Case {
  name: string;
  /** How long the walk was, in seconds; null where it did not come to its end. */
  seconds: number | null;
  failure: { type: 'expectation' | 'runaway'; message: string } | null;
}

/** Rehearsals as JUnit XML: a suite for each walk, a case for each expectation, with the entries that show a failure. */
export function junitXml(level: Level, rehearsed: readonly { walk: Walk; rehearsal: Ended }[]): string {
  const suites = rehearsed.map(({ walk, rehearsal }) => ({ name: walk.name.trim(), cases: casesOf(level, rehearsal) }));
  const root = counted(
    xml.create('testsuites', { encoding: 'UTF-8' }),
    suites.flatMap(({ cases }) => cases),
  );
  for (const { name, cases } of suites) {
    const suite = counted(root.ele('testsuite', { name: xmlText(oneLine(name)) }), cases);
    for (const one of cases) {
      const named = { classname: xmlText(oneLine(level.name.trim())), name: xmlText(oneLine(one.name)) };
      const element = suite.ele('testcase', one.seconds === null ? named : { ...named, time: one.seconds });
      if (one.failure !== null) element.ele('failure', { message: xmlText(one.failure.message), type: one.failure.type });
    }
  }
  return root.end({ pretty: true });
}

function casesOf(level: Level, { ledger, expectations, ticks, rate }: Ended): Case[] {
  const cases = expectations.map(({ label, id, passed, because, entries }): Case => {
    const shown = entries.map((number) => {
      const entry = ledger.at(number)!;
      return `${number}. ${entry.seconds.toFixed(3)} s ${entrySentence(entry, (thing) => nameOf(level, thing), level)}`;
    });
    return {
      name: label === '' ? id : label,
      seconds: ticks / rate,
      failure: passed ? null : { type: 'expectation', message: [because, ...shown].join('\n') },
    };
  });
  const last = ledger.at(ledger.length);
  const why = last === undefined ? null : reasonOf(last);
  if (why === 'runaway' || why === 'too many entries') {
    const message = why === 'runaway' ? 'A tick ran away' : 'There were more entries than were asked for';
    cases.push({ name: 'comes to an end', seconds: null, failure: { type: 'runaway', message } });
  }
  return cases;
}

function counted(element: XMLElement, cases: readonly Case[]): XMLElement {
  const failures = cases.filter(({ failure }) => failure !== null).length;
  return element.att('tests', cases.length).att('failures', failures).att('errors', 0).att('skipped', 0);
}
