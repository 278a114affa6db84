import { routes } from '@nettlewick/contract';
import type { AnswerTo, Route, RouteName, Routes } from '@nettlewick/contract';
import { Router } from 'express';
import type { Request, Response } from 'express';
import { problemResponse } from './problems';

/**
 * How the routes of the contract are answered: with what is given as JSON and the status of the route, or with nothing where the
 * route says so (null). Whoever has sent the answer itself gives undefined.
 */
export type Handlers<Name extends RouteName> = {
  [N in Name]: (request: Request, response: Response) => Promise<AnswerTo<Routes[N]> | undefined>;
};

/** Answers routes at their paths; every other method there is refused, with those that are answered. */
export function answering<Name extends RouteName>(handlers: Handlers<Name>): Router {
  const router = Router();
  const names = Object.keys(handlers) as Name[];
  const paths = new Set(names.map((name) => routes[name].path));
  for (const path of paths) {
    const here = names.filter((name) => routes[name].path === path);
    const at = router.route(path.replace(/\{(\w+)\}/g, ':$1'));
    for (const name of here) {
      const { method, status }: Route = routes[name];
      at[method](async (request: Request, response: Response) => {
        const answer = await handlers[name](request, response);
        if (answer === null) response.status(status).end();
        else if (answer !== undefined) response.status(status).json(answer);
      });
    }
    const methods = here.map((name) => routes[name].method.toUpperCase()).join(', ');
    at.all((request, response) => {
      response.set('allow', methods);
      problemResponse('method-not-allowed', { detail: `${request.method} is not answered here; ${methods} are.` });
    });
  }
  return router;
}
