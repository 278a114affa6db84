/** What a value is multiplied by to keep so many decimals. */
const scales = [1, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9];

/** A value rounded to a number of decimals, from 0 to 9: without the dust of binary fractions, and never minus zero. */
export function roundTo(value: number, decimals: number): number {
  const scale = scales[decimals]!;
  return Math.round(value * scale) / scale + 0;
}

/** A value to a tenth of a millimetre, or of a thousandth of a degree: as what is drawn is written into a level. */
export function tidy(value: number): number {
  return roundTo(value, 4);
}
