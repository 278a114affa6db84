import type { Entry, HeldReason } from '../rehearsal/ledger';

/** What an entry says, in one short line. `nameOf` gives the readable name for an id. */
export function entrySentence(entry: Entry, nameOf: (id: string) => string): string {
  const who = entry.who === null ? 'nobody' : nameOf(entry.who);
  const what = entry.what === null ? '' : nameOf(entry.what);
  const chain = entry.chain === null ? '' : nameOf(entry.chain);
  const { details } = entry;
  switch (entry.kind) {
    case 'start':
      return `The walk “${what}” begins`;
    case 'enter':
      return `${who} enters ${what}`;
    case 'leave':
      return `${who} leaves ${what}`;
    case 'missed':
      return `${who} passed ${what} between two ticks, and nothing fired`;
    case 'use':
      return details['use'] === 'carry' ? `${who} picks up ${what}` : `${who} puts down ${what}`;
    case 'press':
      return `${what} is pressed by ${who} (${String(details['load'])} kg)`;
    case 'release':
      return `${what} is released (${String(details['load'])} kg left)`;
    case 'moving':
      return `${what} starts to ${details['to'] === 'open' ? 'open' : 'close'}${details['turnedBack'] === true ? ', turned back on its way' : ''}`;
    case 'arrived':
      return `${what} has arrived`;
    case 'opened':
      return `${what} is open`;
    case 'closed':
      return `${what} is closed`;
    case 'blocked':
      return `${who} is stopped by ${what}`;
    case 'changed':
      return changed(entry, what);
    case 'chain-started':
      return `“${chain}” starts`;
    case 'step':
      return (
        `${stepWords(String(details['do']))} ${what}`.trim() +
        (details['problem'] === undefined ? '' : `, but there is ${String(details['problem'])}`)
      );
    case 'chain-finished':
      return `“${chain}” is finished`;
    case 'held':
      return `${chain === '' ? `${eventWords(String(details['event']))} ${what}`.trim() : `“${chain}”`} held for ${who}: ${heldWords(entry, nameOf)}`;
    case 'runaway':
      return `Too much in one tick: ${list(details['cycle']).join(' → ')}`;
    case 'end':
      return `The rehearsal ends: ${endWords(entry, nameOf)}`;
  }
}

/** Why something was held back, in words. */
export function heldWords(entry: Entry, nameOf: (id: string) => string): string {
  const { details } = entry;
  switch (details['reason'] as HeldReason) {
    case 'disabled':
      return `${entry.what === null ? 'it' : nameOf(entry.what)} is disabled`;
    case 'silent-visitor':
      return 'this visitor raises no overlaps';
    case 'filtered':
      return `the filter asks for ${String(details['part'])} ${String(details['asked'])}, found ${String(details['found']) || 'none'}`;
    case 'chain-off':
      return 'the chain is switched off';
    case 'used-up':
      return `it has started ${String(details['used'])} of at most ${String(details['limit'])} times`;
    case 'cooling':
      return `it cools down for another ${String(details['seconds'])} s`;
    case 'condition-false':
      return list(details['read'])
        .map((line) => line.replace(/^[^:]+/, (id) => nameOf(id)))
        .join('; ');
    case 'running':
      return 'the chain is running already';
    case 'out-of-reach':
      return details['carriedBy'] !== undefined
        ? `it is carried by ${nameOf(String(details['carriedBy']))}`
        : details['problem'] !== undefined
          ? 'there is no such prop'
          : `it is ${String(details['metres'])} m away, and the reach is ${String(details['reach'])} m`;
    case 'not-carried':
      return 'it does not carry it';
  }
}

function changed(entry: Entry, what: string): string {
  const { field, to } = entry.details;
  if (field === 'text') return `${what} now says “${String(to)}”`;
  if (field === 'shown') return `${what} is now ${to === true ? 'shown' : 'hidden'}`;
  return `${what} is now ${to === true ? 'on' : 'off'}`;
}

function stepWords(kind: string): string {
  return { 'set-flag': 'set', 'write-sign': 'write on' }[kind] ?? kind;
}

function eventWords(kind: string): string {
  return (
    { enter: 'entering', leave: 'leaving', press: 'pressing', release: 'releasing', use: 'picking up or putting down' }[kind] ??
    kind
  );
}

function endWords(entry: Entry, nameOf: (id: string) => string): string {
  const { reason, who } = entry.details;
  if (reason === 'settled') return 'nothing more can happen';
  if (reason === 'stuck') return `${list(who).map(nameOf).join(', ')} cannot get any further`;
  if (reason === 'runaway') return 'one tick ran away';
  return 'the time of the walk is up';
}

function list(value: unknown): string[] {
  return Array.isArray(value) ? value.map(String) : [];
}
