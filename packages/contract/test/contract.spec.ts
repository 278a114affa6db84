import { openApi } from '../src/openapi';
import { problem, problemOf, problems } from '../src/index';

it('describes every failure of every request as a problem document', () => {
  const { paths = {} } = openApi();
  for (const methods of Object.values(paths)) {
    for (const operation of Object.values(methods as Record<string, { responses: Record<string, { content?: object }> }>)) {
      for (const [status, response] of Object.entries(operation.responses)) {
        if (Number(status) >= 400 && Number(status) !== 503)
          expect(Object.keys(response.content ?? {})).toEqual(['application/problem+json']);
      }
    }
  }
});

it('names every operation once, and refers to the level by its component', () => {
  const document = openApi();
  const ids = Object.values(document.paths ?? {}).flatMap((methods) =>
    Object.values(methods as Record<string, { operationId: string }>).map((one) => one.operationId),
  );
  expect(new Set(ids).size).toBe(ids.length);
  expect(Object.keys(document.components?.schemas ?? {})).toEqual(expect.arrayContaining(['Level', 'Problem', 'StoredLevel']));
});

it('makes problem documents that its own schema takes', () => {
  for (const name of Object.keys(problems) as (keyof typeof problems)[]) {
    const made = problemOf(name, { detail: 'why', currentRevision: 3 });
    expect(problem.parse(made)).toMatchObject({ type: `urn:nettlewick:problem:${name}`, status: problems[name].status });
  }
});
