/** The middle of some numbers. */
export function median(numbers: readonly number[]): number {
  const sorted = numbers.toSorted((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? NaN;
}

/** To three significant digits. */
export function brief(value: number): number {
  return Number(value.toPrecision(3));
}
