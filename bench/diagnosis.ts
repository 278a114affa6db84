import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { findFixes, parseLevel, rehearse } from '@nettlewick/core';
import type { Fix, Level } from '@nettlewick/core';
import { demoFile } from '../scripts/paths';
import type { Finding } from './finding';
import { mistakesIn } from './mistakes';

/** Every so many of the broken levels are looked at, unless it is said otherwise. */
const EVERY = 10;
/** Fixes beyond the first so many are not looked at. */
const SHOWN = 3;

/**
 * Breaks the demo and each right example by one mistake at a time, and asks for fixes of the first walk in which an expectation
 * fails. `ours` is the share of broken levels of which one of the first three fixes meets every expectation again; the peer is all of
 * them. Says for each kind of mistake how many were fixed, and how often the first fix changes the thing that is wrong.
 */
export function diagnosis([every = String(EVERY)]: string[]): Finding {
  const folder = join(demoFile, '../examples');
  const files = [
    demoFile,
    ...readdirSync(folder)
      .filter((name) => !name.includes('broken'))
      .map((name) => join(folder, name)),
  ];
  const kinds = new Map<string, { all: number; fixed: number; named: number; first: number }>();
  const times: number[] = [];
  let [seen, all, fixed, named, first] = [0, 0, 0, 0, 0];
  const missed: string[] = [];
  for (const file of files) {
    const parsed = parseLevel(JSON.parse(readFileSync(file, 'utf8')));
    if (!parsed.ok) throw new Error(`${file} has faults`);
    for (const mistake of mistakesIn(parsed.level as unknown as Record<string, unknown>)) {
      const broken = parseLevel(mistake.level);
      if (!broken.ok) continue;
      const walk = failing(broken.level);
      if (walk === null) continue;
      seen += 1;
      if (seen % Number(every) !== 0) continue;
      const begin = performance.now();
      const fixes = allOf(broken.level, walk).slice(0, SHOWN);
      times.push(performance.now() - begin);
      const isFixed = fixes.some(({ left }) => left === 0);
      const isNamed = fixes.some(({ thing }) => thing === mistake.thing);
      const isFirst = fixes[0]?.thing === mistake.thing;
      const known = kinds.get(mistake.kind) ?? { all: 0, fixed: 0, named: 0, first: 0 };
      kinds.set(mistake.kind, {
        all: known.all + 1,
        fixed: known.fixed + Number(isFixed),
        named: known.named + Number(isNamed),
        first: known.first + Number(isFirst),
      });
      all += 1;
      fixed += Number(isFixed);
      named += Number(isNamed);
      first += Number(isFirst);
      if (!isFixed) missed.push(`${file.split('/').at(-1)} ${mistake.kind} (${mistake.thing})`);
    }
  }
  for (const [kind, one] of [...kinds].sort((a, b) => b[1].all - a[1].all))
    console.log(`${String(one.fixed).padStart(4)} of ${String(one.all).padEnd(4)} fixed, ${one.named} named  ${kind}`);
  for (const one of missed.slice(0, 40)) console.log(`not fixed: ${one}`);
  times.sort((a, b) => a - b);
  const share = (part: number): string => `${Math.round((100 * part) / all)} %`;
  const at = (part: number): number => Math.round(times[Math.floor((times.length - 1) * part)]!);
  console.log(
    `${all} broken levels of ${seen}, ${kinds.size} kinds of mistake: ${share(fixed)} fixed, ${share(named)} named, ${share(first)} named first; ` +
      `${at(0.5)} ms, at most ${at(1)} ms, 9 of 10 within ${at(0.9)} ms`,
  );
  return { name: 'diagnosis', unit: 'broken levels', ours: fixed, peer: all, peerName: 'all of them', ratio: fixed / all };
}

/** The first walk in which an expectation fails; null if none does. */
function failing(level: Level): string | null {
  for (const walk of level.walks)
    if (rehearse(level, walk, { most: 20_000 }).expectations.some(({ passed }) => !passed)) return walk.id;
  return null;
}

function allOf(level: Level, walk: string): Fix[] {
  const search = findFixes(level, walk);
  for (;;) {
    const { done, value } = search.next();
    if (done === true) return value;
  }
}
