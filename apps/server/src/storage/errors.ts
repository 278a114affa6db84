import type { Fault } from '@nettlewick/core';

/** There is no such level or revision, or it is deleted. */
export class NotFound extends Error {
  override name = 'NotFound';
}

/** The level has a newer revision than the one that was changed. */
export class RevisionConflict extends Error {
  override name = 'RevisionConflict';
  constructor(readonly currentRevision: number) {
    super(`The newest revision is ${currentRevision}`);
  }
}

/** A stored document that has faults. */
export class BrokenDocument extends Error {
  override name = 'BrokenDocument';
  constructor(readonly faults: readonly Fault[]) {
    super('The stored document has faults');
  }
}

/** A level is being saved by others for longer than a save waits. */
export class Busy extends Error {
  override name = 'Busy';
}
