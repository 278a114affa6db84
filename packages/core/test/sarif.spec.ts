import Ajv from 'ajv';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Result } from 'sarif';
import { sarifLog } from '../src/formats/sarif';
import type { SarifFinding } from '../src/formats/sarif';

/** Findings as SARIF: valid against the published schema, with places. */

const schema = JSON.parse(readFileSync(join(__dirname, 'standards/sarif-2.1.0.schema.json'), 'utf8')) as object;
// Its draft of JSON Schema treats formats as annotations.
const isValid = new Ajv({ strict: false, validateFormats: false, unicodeRegExp: false, allErrors: true }).compile(schema);
const text = `{
  "format": "nettlewick-level",
  "zones": [
    { "id": "pad",
      "name": "Pad" }
  ]
}
`;
const finding = (more: Partial<SarifFinding> = {}): SarifFinding => ({
  kind: 'thinner-than-a-tick',
  weight: 'warning',
  path: '/zones/0',
  message: '“Pad” is thin. Turn on swept detection.',
  fingerprint: 'thinner-than-a-tick pad',
  thing: 'Pad',
  accepted: null,
  isNew: null,
  ...more,
});
const results = (...findings: SarifFinding[]): Result[] => sarifLog('levels/mill.level.json', text, findings).runs[0]!.results!;

it('is valid against the schema of the standard, for any findings', () => {
  const word = fc.string({ minLength: 1 });
  const any = fc.record({
    kind: word,
    weight: fc.constantFrom('fault' as const, 'warning' as const, 'remark' as const),
    path: fc.constantFrom('', '/zones/0', '/zones/7/name', '/no~1such'),
    message: word,
    fingerprint: word,
    thing: fc.option(word),
    accepted: fc.option(fc.string()),
    isNew: fc.option(fc.boolean()),
    patch: fc.constant([{ op: 'replace', path: '/zones/0/name', value: 'Pad' }]),
  });
  fc.assert(
    fc.property(fc.array(any), fc.constantFrom(text, '', '{', 'null'), (findings, of) => {
      isValid(JSON.parse(JSON.stringify(sarifLog('a level.json', of, findings))));
      expect(isValid.errors).toBeNull();
    }),
  );
  // The schema does reject something else.
  expect(isValid({ ...sarifLog('a', text, []), version: '2.0.0' })).toBe(false);
});

it('gives the region of the value, or of its owner if the value is left out', () => {
  const region = (path: string) => results(finding({ path }))[0]!.locations![0]!.physicalLocation!.region;
  expect(region('/zones/0')).toEqual({ startLine: 4, startColumn: 5, endLine: 5, endColumn: 22 });
  expect(region('/zones/0/name')).toEqual({ startLine: 5, startColumn: 15, endLine: 5, endColumn: 20 });
  expect(region('/zones/0/swept')).toEqual(region('/zones/0'));
});

it('has a rule for each kind, a level for each weight, suppressions and baseline states', () => {
  const found = results(
    finding(),
    finding({ kind: 'broken-reference', weight: 'fault', isNew: true }),
    finding({ weight: 'remark', accepted: 'Meant so.', isNew: false }),
  );
  expect(found.map(({ level, ruleId, ruleIndex }) => [level, ruleId, ruleIndex])).toEqual([
    ['warning', 'thinner-than-a-tick', 1],
    ['error', 'broken-reference', 0],
    ['note', 'thinner-than-a-tick', 1],
  ]);
  expect(found.map(({ baselineState }) => baselineState)).toEqual([undefined, 'new', 'unchanged']);
  expect(found[2]!.suppressions).toEqual([{ kind: 'inSource', justification: 'Meant so.' }]);
});

it('encodes the path of the file as a URI', () => {
  const uri = (file: string) => sarifLog(file, text, []).runs[0]!.artifacts![0]!.location!.uri;
  expect(uri('levels\\north wing/50%.level.json')).toBe('levels/north%20wing/50%25.level.json');
});
