import type { Point } from '@nettlewick/core';

/** A numbered flag stuck into the plan: what happens there, or a point of a way. */
export interface Pin {
  id: string;
  at: Point;
  /** What stands on the flag: a number, or a word. */
  text: string;
  /** What it is, for those who do not see it; and beside the flag, where there is room. */
  label: string;
  /** Whether it can be pressed and dragged. */
  held?: true;
}

/** A pin where it stands on the screen, on a pole so many pixels high. */
export interface StuckPin extends Pin {
  pole: number;
  place: string;
}

/** How high the pole of a flag is, and how high the flag itself, in pixels; a pole is no higher than eight flags more. */
const POLE = 30;
const FLAG = 16;

/** The pins where they stand on the screen; one that would cover another has a longer pole. */
export function stuckIn(pins: readonly Pin[], toScreen: (at: Point) => Point): StuckPin[] {
  const flags: { left: number; right: number; top: number }[] = [];
  return pins.map((pin) => {
    const { x, y } = toScreen(pin.at);
    const right = x + 12 + 7 * pin.text.length;
    let pole = POLE;
    const covers = (): boolean => flags.some((one) => one.left < right && one.right > x && Math.abs(one.top - (y - pole)) < FLAG);
    while (pole < POLE + 8 * FLAG && covers()) pole += FLAG;
    flags.push({ left: x, right, top: y - pole });
    return { ...pin, pole, place: `translate(${x}px,${y}px)` };
  });
}
