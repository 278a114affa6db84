const QUOTE = 0x22;
const BACKSLASH = 0x5c;
const opening = new Set([0x5b, 0x7b]);
const closing = new Set([0x5d, 0x7d]);

/** How deeply lists and objects are nested in the bytes of a JSON text, found without reading it; it stops beyond `most`. */
export function nesting(bytes: Uint8Array, most: number): number {
  let depth = 0;
  let deepest = 0;
  let inText = false;
  for (let i = 0; i < bytes.length && deepest <= most; i++) {
    const byte = bytes[i]!;
    if (inText) {
      if (byte === BACKSLASH) i += 1;
      else if (byte === QUOTE) inText = false;
    } else if (byte === QUOTE) inText = true;
    else if (opening.has(byte)) deepest = Math.max(deepest, (depth += 1));
    else if (closing.has(byte)) depth -= 1;
  }
  return deepest;
}
