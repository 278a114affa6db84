import { PROBLEM_TYPE, problemOf } from '@nettlewick/contract';
import type { Problem, ProblemName } from '@nettlewick/contract';
import type { Fault } from '@nettlewick/core';
import type { NextFunction, Request, Response } from 'express';
import { ReaderBusy } from '../reading/document-reader';
import { asStorageTrouble } from '../storage/trouble';
import type { StorageFailure } from '../storage/trouble';
import { BrokenDocument, Busy, NotFound, RevisionConflict } from '../storage/errors';

/** An error that is answered with a problem document. */
class HttpProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.title);
  }
}

/** Throws a problem of a kind. */
export function problemResponse(name: ProblemName, rest: Parameters<typeof problemOf>[1] = {}): never {
  throw new HttpProblem(problemOf(name, rest));
}

/** Whether an error says already what is answered. */
export function isRefusal(error: unknown): boolean {
  return error instanceof HttpProblem;
}

/** Throws the faults of a document, each with its pointer. */
export function refuseFaults(faults: readonly Fault[]): never {
  const first = faults[0];
  problemResponse('invalid-document', {
    detail: `${faults.length === 1 ? 'One fault' : `${faults.length} faults`}, the first at ${first?.path === '' ? 'the top' : first?.path}: ${first?.message}. Nothing was changed.`,
    errors: faults.slice(0, 100).map((fault) => ({ pointer: fault.path, detail: fault.message })),
  });
}

/** After how many seconds whoever was refused because there is too much to do may ask again. */
const RETRY_AFTER = 2;

/** Turns whatever was thrown into a problem document: the last handler of the application. It asks whether the disk is full. */
export function answerProblems(diskFull: () => Promise<boolean>) {
  return async (error: unknown, request: Request, response: Response, next: NextFunction): Promise<void> => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const writes = !['GET', 'HEAD', 'OPTIONS'].includes(request.method);
    const trouble = asStorageTrouble(error);
    const problem = trouble === null ? asProblem(error, writes) : storageProblem(trouble, writes, await diskFull());
    if (problem.status >= 500) request.log.error({ err: error }, 'request failed');
    if (problem.status === 503) response.set('retry-after', String(RETRY_AFTER));
    response
      .status(problem.status)
      .type(PROBLEM_TYPE)
      .send(JSON.stringify({ ...problem, instance: request.originalUrl }));
  };
}

function asProblem(error: unknown, writes: boolean): Problem {
  if (error instanceof HttpProblem) return error.problem;
  if (error instanceof NotFound)
    return problemOf('not-found', {
      detail: 'It does not exist or was deleted. See the list of levels.',
    });
  if (error instanceof RevisionConflict) {
    return problemOf('stale-revision', {
      detail: `The newest revision is ${error.currentRevision}. Open it, bring your changes over, and save again. Nothing was changed.`,
      currentRevision: error.currentRevision,
    });
  }
  if (error instanceof BrokenDocument) {
    return problemOf('broken-document', {
      detail: `What is stored cannot be opened: ${error.faults[0]?.message ?? 'it has faults'}. Earlier revisions may be whole. Nothing was changed.`,
      errors: error.faults.slice(0, 100).map((fault) => ({ pointer: fault.path, detail: fault.message })),
    });
  }
  if (error instanceof Busy || error instanceof ReaderBusy)
    return problemOf('busy', { detail: 'The server is busy. Try again in a moment. Nothing was changed.' });
  const { status } = error as { status?: number };
  if (status !== undefined && status >= 400 && status < 500)
    return problemOf('bad-request', { detail: (error as Error).message });
  return problemOf('internal', { detail: `The log of the server says more. ${writes ? UNCERTAIN : ''}`.trim() });
}

/** What is true of a write whose end nobody has seen. */
const UNCERTAIN = 'The save may have succeeded. Open the level and check its revision before you send it again.';

/** A database that went away, or is not there, while its disk is full is so for that reason: it stops when it finds no room. */
function storageProblem(trouble: StorageFailure, writes: boolean, diskFull: boolean): Problem {
  if (diskFull && trouble === 'unreachable') return storageProblem('disk-full', writes, diskFull);
  if (diskFull && trouble === 'lost')
    return problemOf('disk-full', { detail: `Make room on the disk of the database.${writes ? ` ${UNCERTAIN}` : ''}` });
  switch (trouble) {
    case 'disk-full':
      return problemOf('disk-full', { detail: 'Make room on the disk of the database, then try again. Nothing was changed.' });
    case 'unreachable':
      return problemOf('no-database', { detail: 'Try again in a moment. Nothing was changed.' });
    case 'busy':
      return problemOf('busy', { detail: 'The database has too much to do. Try again in a moment. Nothing was changed.' });
    case 'lost':
      return problemOf('no-database', {
        detail: writes
          ? `The database went away before it answered. ${UNCERTAIN}`
          : 'The database went away. Try again in a moment.',
      });
  }
}
