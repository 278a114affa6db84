import { PROBLEM_TYPE, problemOf } from '@nettlewick/contract';
import type { Problem, ProblemName } from '@nettlewick/contract';
import type { Fault } from '@nettlewick/core';
import type { NextFunction, Request, Response } from 'express';
import { QueryFailedError } from 'typeorm';
import { NotFound, Stale } from '../storage/level-store';

/** An error that is answered with a problem document. */
export class HttpProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.title);
  }
}

/** Throws a problem of a kind. */
export function refuse(name: ProblemName, rest: Parameters<typeof problemOf>[1] = {}): never {
  throw new HttpProblem(problemOf(name, rest));
}

/** Throws the faults of a document, each with its pointer. */
export function refuseFaults(faults: readonly Fault[]): never {
  const first = faults[0];
  refuse('invalid-document', {
    detail: `${faults.length === 1 ? 'One fault' : `${faults.length} faults`}, the first at ${first?.path === '' ? 'the top' : first?.path}: ${first?.message}. Nothing was changed.`,
    errors: faults.slice(0, 100).map((fault) => ({ pointer: fault.path, detail: fault.message })),
  });
}

/** Turns whatever was thrown into a problem document. The last handler of the application. */
export function answerProblems(error: unknown, request: Request, response: Response, next: NextFunction): void {
  if (response.headersSent) {
    next(error);
    return;
  }
  const problem = asProblem(error);
  if (problem.status >= 500) request.log.error({ err: error }, 'request failed');
  response
    .status(problem.status)
    .type(PROBLEM_TYPE)
    .send(JSON.stringify({ ...problem, instance: request.originalUrl }));
}

function asProblem(error: unknown): Problem {
  if (error instanceof HttpProblem) return error.problem;
  if (error instanceof NotFound)
    return problemOf('not-found', {
      detail: 'It was never there, or it has been deleted. The list of levels shows what there is.',
    });
  if (error instanceof Stale) {
    return problemOf('stale-revision', {
      detail: `The newest revision is ${error.currentRevision}. Open it, bring your changes over, and save again. Nothing was changed.`,
      currentRevision: error.currentRevision,
    });
  }
  const { type, status, code } = error as { type?: string; status?: number; code?: string };
  if (type === 'entity.too.large')
    return problemOf('too-large', { detail: 'A document may have at most 16 MiB. Nothing was changed.' });
  if (type === 'entity.parse.failed') return problemOf('not-json', { detail: (error as Error).message });
  if (type === 'charset.unsupported' || type === 'encoding.unsupported')
    return problemOf('wrong-media-type', { detail: 'Use UTF-8, with gzip, deflate or no encoding.' });
  if (isLost(error, code)) return problemOf('no-database', { detail: 'Try again in a moment. Nothing was changed.' });
  if (status !== undefined && status >= 400 && status < 500)
    return problemOf('bad-request', { detail: (error as Error).message });
  return problemOf('internal', { detail: 'The log of the server says more. Nothing was changed.' });
}

/** Whether an error means that the database went away, rather than that it refused something. */
function isLost(error: unknown, code: string | undefined): boolean {
  if (code !== undefined && ['ECONNREFUSED', 'ECONNRESET', 'ETIMEDOUT', '57P01', '57P03', '08006', '08003'].includes(code))
    return true;
  if (error instanceof QueryFailedError) return isLost(error.driverError, (error.driverError as { code?: string }).code);
  return error instanceof Error && /connection (terminated|timeout)|timeout exceeded when trying to connect/i.test(error.message);
}
