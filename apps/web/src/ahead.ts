/** Prefetches the level in the URL before the app starts. The response can be taken once. */
const asked = new Map<string, Promise<Response>>();

const [, id] = /^\/levels\/([^/]+)\//.exec(location.pathname) ?? [];
if (id !== undefined) {
  const path = `/api/levels/${id}`;
  // As the page that came from the server asks for it, so that it comes once; without a header it cannot be told otherwise.
  const answer = fetch(`${path}?ngsw-bypass`, { signal: AbortSignal.timeout(60_000) });
  // Whoever takes it hears of a failure; nobody may.
  answer.catch(() => undefined);
  asked.set(path, answer);
}

/** Whether the address is that of a level. */
export const opensLevel = id !== undefined;

/** The answer to what was asked ahead, for once; undefined if it was not. */
export function takePrefetched(path: string): Promise<Response> | undefined {
  const answer = asked.get(path);
  asked.delete(path);
  return answer;
}
