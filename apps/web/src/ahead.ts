/**
 * Whoever opens a level needs it and the studio soon: both are asked for before the rest of the page has begun. The answer is
 * for whoever asks for the same path first.
 */
const asked = new Map<string, Promise<Response>>();

const [, id] = /^\/levels\/([^/]+)\//.exec(location.pathname) ?? [];
if (id !== undefined) {
  const path = `/api/levels/${id}`;
  // As the page that came from the server asks for it, so that it comes once; without a header it cannot be told otherwise.
  const answer = fetch(`${path}?ngsw-bypass`);
  // Whoever takes it hears of a failure; nobody may.
  answer.catch(() => undefined);
  asked.set(path, answer);
  void import('./app/studio/studio-page');
}

/** The answer to what was asked ahead, for once; undefined if it was not. */
export function takenAhead(path: string): Promise<Response> | undefined {
  const answer = asked.get(path);
  asked.delete(path);
  return answer;
}
