import { parse, printParseErrorCode } from 'jsonc-parser';
import type { ParseError } from 'jsonc-parser';

const words: Record<string, string> = {
  CommaExpected: 'a comma is missing here',
  ColonExpected: 'a colon is missing here',
  PropertyNameExpected: 'the name of a field in double quotes is missing here',
  ValueExpected: 'a value is missing here',
  CloseBraceExpected: 'a closing brace is missing here',
  CloseBracketExpected: 'a closing bracket is missing here',
  EndOfFileExpected: 'unexpected text after the end',
  InvalidCommentToken: 'comments are not part of JSON',
  UnexpectedEndOfComment: 'comments are not part of JSON',
  UnexpectedEndOfString: 'this text has no closing quote',
  UnexpectedEndOfNumber: 'this number is cut short',
  InvalidUnicode: 'this is no Unicode escape',
  InvalidEscapeCharacter: 'invalid escape sequence',
  InvalidCharacter: 'unexpected character',
  InvalidSymbol: 'not a JSON value; strings need double quotes',
  InvalidNumberFormat: 'this is no number',
};

/** What keeps a text from being JSON, in words, with its line and column (both counted from 1). */
export function jsonFault(text: string): string {
  if (text.trim() === '') return 'it is empty';
  const errors: ParseError[] = [];
  try {
    parse(text, errors, { disallowComments: true, allowTrailingComma: false });
  } catch {
    return 'it is nested too deeply';
  }
  const first = errors[0];
  if (first === undefined) return 'it cannot be read';
  const before = text.slice(0, first.offset);
  const line = before.split('\n').length;
  const column = first.offset - before.lastIndexOf('\n');
  return `line ${line}, column ${column}: ${words[printParseErrorCode(first.error)] ?? 'it cannot be read from here on'}`;
}
