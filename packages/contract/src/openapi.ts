import * as z from 'zod';
import { createDocument } from 'zod-openapi';
import { levelId } from './levels';
import { PROBLEM_TYPE, problem } from './problem';
import { routes } from './routes';
import type { Route } from './routes';

const parts: Record<string, z.ZodType> = { id: levelId, number: z.string().regex(/^[1-9]\d*$/) };
const ifMatch = z
  .string()
  .meta({ description: 'the ETag of the revision that was changed, as it was given, for example "7-4f1c…"' });
const headers: Record<string, z.ZodType> = {
  etag: z.string().meta({ description: 'what stands for the revision and its document: to be sent back as it is' }),
  location: z.string(),
};

/** What any request may be answered with, whatever it asks for. */
const anywhere = [400, 401, 403, 421, 429, 503, 507];

function chosen(from: Record<string, z.ZodType>, names: readonly string[]) {
  return z.object(Object.fromEntries(names.map((name) => [name, from[name]!])));
}

function asked({ path, query, over }: Route) {
  const named = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name!);
  const params = {
    ...(named.length === 0 ? {} : { path: chosen(parts, named) }),
    ...(query === undefined ? {} : { query }),
    ...(over === undefined ? {} : { header: z.object({ 'if-match': ifMatch }) }),
  };
  return Object.keys(params).length === 0 ? {} : { requestParams: params };
}

function sent({ body, lines }: Route) {
  if (body !== undefined) return { requestBody: { content: { 'application/json': { schema: body } } } };
  if (lines === undefined) return {};
  const schema = z.string().meta({ description: lines });
  return { requestBody: { required: true, content: { 'application/x-ndjson': { schema } } } };
}

function answers(route: Route) {
  const { answer, events, says, status, unchanged, otherwise, failures } = route;
  const content =
    answer !== null
      ? { content: { 'application/json': { schema: answer } } }
      : events === true
        ? { content: { 'text/event-stream': { schema: z.string() } } }
        : {};
  return {
    [status]: {
      description: says,
      ...content,
      ...(route.headers === undefined ? {} : { headers: chosen(headers, route.headers) }),
    },
    ...(unchanged === true ? { '304': { description: 'Not changed' } } : {}),
    ...(otherwise === undefined ? {} : { [otherwise.status]: { description: otherwise.says, ...content } }),
    ...Object.fromEntries(
      (failures === null ? [] : [...new Set([...failures, ...anywhere])]).map((failure) => [
        failure,
        { description: 'A problem document (RFC 9457)', content: { [PROBLEM_TYPE]: { schema: problem } } },
      ]),
    ),
  };
}

/** The interface of the server as an OpenAPI 3.1 document, from the routes that the server answers and the schemas that it checks with. */
export function openApi(): ReturnType<typeof createDocument> {
  const paths: Record<string, Record<string, object>> = {};
  for (const [operationId, route] of Object.entries<Route>(routes))
    (paths[route.path] ??= {})[route.method] = {
      operationId,
      summary: route.summary,
      ...asked(route),
      ...sent(route),
      responses: answers(route),
    };
  return createDocument({
    openapi: '3.1.0',
    info: { title: 'Nettlewick', version: '1', description: 'Levels, their revisions, and the health of the server.' },
    servers: [{ url: '/' }],
    paths,
  });
}
