const QUOTE = 0x22;
const BACKSLASH = 0x5c;

/** How deeply lists and objects are nested in the bytes of a JSON text, found without reading it; it stops beyond `most`. */
export function nesting(bytes: Uint8Array, most: number): number {
  let depth = 0;
  let deepest = 0;
  let inText = false;
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i]!;
    if (inText) {
      if (byte === BACKSLASH) i += 1;
      else if (byte === QUOTE) inText = false;
      continue;
    }
    if (byte === QUOTE) inText = true;
    // Brackets and braces are alike but for one bit: 0x5b and 0x7b open, 0x5d and 0x7d close.
    else if ((byte & 0xdf) === 0x5b) {
      depth += 1;
      if (depth > deepest) deepest = depth;
      if (deepest > most) return deepest;
    } else if ((byte & 0xdf) === 0x5d) depth -= 1;
  }
  return deepest;
}
