import { customAlphabet } from 'nanoid';

const short = customAlphabet('0123456789abcdefghijklmnopqrstuvwxyz', 10);

/** A new id for a thing of a level, which no other window gives. */
export function newId(prefix: string): string {
  return `${prefix}-${short()}`;
}
