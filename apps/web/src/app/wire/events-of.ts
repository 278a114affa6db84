import { causeEvents, sourcesFor } from '@nettlewick/core';
import type { CauseEvent, Found } from '@nettlewick/core';

/** The events that a thing can raise, the most usual first. */
export function eventsOf(found: Found): CauseEvent[] {
  const events = causeEvents.filter((event) => sourcesFor(event).includes(found.word));
  if (found.word === 'plate') return ['press', 'release', ...events.filter((event) => event !== 'press' && event !== 'release')];
  if (found.word === 'door') return ['opened', 'closed', ...events.filter((event) => event !== 'opened' && event !== 'closed')];
  return events;
}
