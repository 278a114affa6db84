/** The longest wait for the next paint, in milliseconds. */
const UNSEEN = 500;

/** When what is to be seen now has been painted; a page that is not seen is not waited for. */
export async function nextPaint(): Promise<void> {
  const frames = async (): Promise<void> => {
    for (let frame = 0; frame < 2; frame++) await new Promise(requestAnimationFrame);
  };
  await Promise.race([frames(), new Promise((resolve) => setTimeout(resolve, UNSEEN))]);
}

/** Notes in the page's own timeline when something has been painted: for whoever measures how long it takes from an edit to there. */
export function notePainted(what: 'ledger' | 'matrix' | 'walks'): void {
  void nextPaint().then(() => performance.mark(`nettlewick:${what}-shown`));
}
