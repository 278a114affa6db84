/** Seconds on a ruler, to a hundredth. */
export function brief(seconds: number): string {
  return String(Math.round(seconds * 100) / 100);
}
