/** Control characters, and those that turn the direction of writing, other than the line break. */
const unprintable = /[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u061c\u200e\u200f\u2028-\u202e\u2066-\u2069]/g;

/**
 * Text for a terminal or a file: what could steer either is written out as an escape, so that no name or text of a level does.
 * JSON stays the same JSON.
 */
export function printable(text: string): string {
  return text.replace(unprintable, (character) => `\\u${character.charCodeAt(0).toString(16).padStart(4, '0')}`);
}

/** What XML 1.0 has no place for (section 2.2), once control characters are written out: two that are no characters, and halves of pairs. */
const noXml = /[\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** The same for a text in XML. */
export function xmlText(text: string): string {
  return printable(text).replace(noXml, (character) => `\\u${character.charCodeAt(0).toString(16).padStart(4, '0')}`);
}

/** The same for a single line. */
export function oneLine(text: string): string {
  return printable(text).replaceAll('\n', '\\n');
}
