import type { Entry } from '../ledger/ledger';
import type { HeldReason } from '../vocabulary/entries';

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
      return `${who} ${{ carry: 'picks up', drop: 'puts down', throw: 'throws' }[String(details['use'])] ?? 'uses'} ${what}`;
    case 'dwell':
      return `${who} has stayed in ${what}`;
    case 'bump':
      return `${who} bumps into ${what}`;
    case 'on':
    case 'off':
      return `${what} is switched ${entry.kind} by ${who}`;
    case 'signal':
      return `${what} is sent to ${details['to'] === 'tag' ? `what is tagged ${String(details['tag'])}` : details['to'] === 'radius' ? `what is within ${String(details['metres'])} m` : 'all'}`;
    case 'became-true':
      return `${what} has become true`;
    case 'became-false':
      return `${what} has become false`;
    case 'gave-up':
      return `“${chain}” is given up: ${gaveUpWords(String(details['reason']))}`;
    case 'teleported':
      return `${what} is teleported`;
    case 'warped':
      return `${what} is warped into ${nameOf(String(details['room']))}`;
    case 'left-behind':
      return `${what} does not travel between rooms, and is left behind`;
    case 'claimed':
      return `${who} claims ${what}`;
    case 'collected':
      return `${who} collects ${what}`;
    case 'spawned':
      return `${what} is spawned`;
    case 'removed':
      return `${what} is removed from play`;
    case 'cue-started':
      return `${what} starts to play`;
    case 'cue-finished':
      return `${what} has played`;
    case 'arrived-inside':
      return `${who} is inside ${what} on arriving, and enters nothing`;
    case 'press':
      return `${what} is pressed${entry.who === null ? '' : ` by ${who}`} (load ${String(details['load'])}, threshold ${String(details['threshold'])})`;
    case 'release':
      return `${what} is released (load ${String(details['load'])}, threshold ${String(details['threshold'])})`;
    case 'moving':
      return `${what} starts ${motionWords(String(details['to']))}${details['turnedBack'] === true ? ', turned back on its way' : ''}`;
    case 'arrived':
      return `${what} has arrived`;
    case 'opened':
      return `${what} is open`;
    case 'closed':
      return `${what} is closed`;
    case 'blocked':
      if (details['by'] !== undefined) return `${what} is stopped by ${nameOf(String(details['by']))}, who is in its way`;
      if (details['problem'] !== undefined) return `${who} cannot go there: ${String(details['problem'])}`;
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
      return `${chain === '' ? `${eventWords(String(details['event']), details['use'])} ${what}`.trim() : `“${chain}”`} held for ${who}: ${heldWords(entry, nameOf)}`;
    case 'runaway':
      return `Too much in one tick: ${list(details['cycle']).map(roundWords(nameOf)).join(' → ')}`;
    case 'end':
      return `The rehearsal ends: ${endWords(entry, nameOf)}`;
  }
}

/** A part of a cycle, which the ledger has as `kind id of chain`, with names. */
function roundWords(nameOf: (id: string) => string) {
  return (part: string): string => {
    const [kind = '', ...ids] = part.split(' ');
    return [kind, ...ids.map((id) => (id === 'of' ? id : nameOf(id)))].join(' ');
  };
}

function motionWords(to: string): string {
  if (to === 'open') return 'to open';
  return to === 'closed' ? 'to close' : `towards ${to}`;
}

function gaveUpWords(reason: string): string {
  return (
    {
      left: 'the visitor left first',
      restarted: 'it was told anew',
      stopped: 'it was stopped',
      reset: 'it was reset',
      'time limit': 'its wait is over',
    }[reason] ?? reason
  );
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
        .map((line) => line.replace(/"([a-z0-9-]+)"/g, (whole, id: string) => (nameOf(id) === '' ? whole : `“${nameOf(id)}”`)))
        .join('; ');
    case 'running':
      return details['queued'] === true
        ? 'the chain is running, and will start again after that'
        : 'the chain is running already';
    case 'out-of-reach':
      return details['carriedBy'] !== undefined
        ? `it is carried by ${nameOf(String(details['carriedBy']))}`
        : details['problem'] !== undefined
          ? String(details['problem'])
          : `it is ${String(details['metres'])} m away, and the reach is ${String(details['reach'])} m`;
    case 'not-carried':
      return 'it does not carry it';
    case 'impossible':
      return String(details['problem']);
  }
}

function changed(entry: Entry, what: string): string {
  const { field, to } = entry.details;
  switch (field) {
    case 'text':
      return `${what} now says “${String(to)}”`;
    case 'shown':
      return `${what} is now ${to === true ? 'shown' : 'hidden'}`;
    case 'solid':
      return `${what} is now ${to === true ? 'solid' : 'passable'}`;
    case 'enabled':
      return `${what} is now ${to === true ? 'enabled' : 'disabled'}`;
    case 'value':
      return `${what} is now ${String(to)}`;
    case 'held':
      return `${what} is ${to === true ? 'held' : 'released'}`;
    case 'owner':
      return `${what} has no owner any more`;
    case 'reset':
      return `${what} is as at the start`;
    case 'started over':
      return `${what} starts over`;
    default:
      return `${what} is now ${to === true ? 'on' : 'off'}`;
  }
}

function stepWords(kind: string): string {
  return (
    { 'set-flag': 'set', 'write-sign': 'write on', 'set-counter': 'count', 'set-text': 'write in' }[kind] ??
    kind.replace('-', ' ')
  );
}

function eventWords(kind: string, use: unknown): string {
  if (kind === 'use') return { carry: 'picking up', drop: 'putting down', throw: 'throwing' }[String(use)] ?? 'using';
  return { enter: 'entering', leave: 'leaving', press: 'pressing', release: 'releasing' }[kind] ?? kind;
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
