import { findNodeAtLocation, parseTree } from 'jsonc-parser';
import type { Node } from 'jsonc-parser';
import type { ArtifactLocation, Log, Region, ReportingDescriptor, Result } from 'sarif';
import { keysOf } from '../vocabulary/paths';

/** A finding, with the parts that SARIF has a place for. */
export interface SarifFinding {
  kind: string;
  weight: 'fault' | 'warning' | 'remark';
  /** JSON pointer (RFC 6901) into the document. */
  path: string;
  /** What is wrong, and what to do about it. */
  message: string;
  /** Identifies the finding independently of its position in the document. */
  fingerprint: string;
  /** The name of the thing it concerns; null for none. */
  thing: string | null;
  /** The note with which it was accepted; null if it was not. */
  accepted: string | null;
  /** Whether it is missing from the baseline; null without a baseline. */
  isNew: boolean | null;
  /** The JSON Patch (RFC 6902) that mends it, where there is one. */
  patch?: readonly object[];
}

const levels = { fault: 'error', warning: 'warning', remark: 'note' } as const;
const SCHEMA = 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json';

/**
 * The findings in a document as a SARIF 2.1.0 log (OASIS), for pipelines and code review. `file` is the path of the document as given;
 * `text` is its content, from which lines and columns are taken.
 */
export function sarifLog(file: string, text: string, findings: readonly SarifFinding[]): Log {
  const artifact: ArtifactLocation = { uri: uriOf(file) };
  const kinds = [...new Set(findings.map(({ kind }) => kind))].sort();
  const regionAt = regionsIn(text);
  return {
    $schema: SCHEMA,
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'Nettlewick', rules: kinds.map(ruleOf) } },
        columnKind: 'utf16CodeUnits',
        artifacts: [{ location: artifact, mimeType: 'application/json' }],
        results: findings.map((one): Result => ({
          ruleId: one.kind,
          ruleIndex: kinds.indexOf(one.kind),
          level: levels[one.weight],
          message: { text: one.message },
          locations: [
            {
              physicalLocation: { artifactLocation: artifact, ...regionAt(one.path) },
              logicalLocations: [{ fullyQualifiedName: one.path, ...(one.thing === null ? {} : { name: one.thing }) }],
            },
          ],
          partialFingerprints: { 'finding/v1': one.fingerprint },
          ...(one.isNew === null ? {} : { baselineState: one.isNew ? 'new' : 'unchanged' }),
          ...(one.accepted === null ? {} : { suppressions: [{ kind: 'inSource', justification: one.accepted }] }),
          ...(one.patch === undefined ? {} : { properties: { patch: one.patch } }),
        })),
      },
    ],
  };
}

function ruleOf(kind: string): ReportingDescriptor {
  const words = kind.replaceAll('-', ' ');
  return { id: kind, shortDescription: { text: words[0]!.toUpperCase() + words.slice(1) } };
}

/** A path as a relative reference of a URI (RFC 3986). */
function uriOf(file: string): string {
  return file.replaceAll('\\', '/').split('/').map(encodeURIComponent).join('/');
}

/** Finds the region of the value at a JSON pointer; no region if the text is not JSON. */
function regionsIn(text: string): (path: string) => { region?: Region } {
  const root = treeOf(text);
  const lines = [0];
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) lines.push(at + 1);
  /** The line and the column of a character, from 1. */
  const placeOf = (offset: number): [line: number, column: number] => {
    let [low, high] = [0, lines.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (lines[middle]! <= offset) low = middle;
      else high = middle - 1;
    }
    return [low + 1, offset - lines[low]! + 1];
  };
  return (path) => {
    const keys = keysOf(path);
    let node: Node | undefined;
    // A value that the document leaves out is reported at its owner.
    for (let deep = keys.length; node === undefined && root !== undefined && deep >= 0; deep--)
      node = findNodeAtLocation(
        root,
        keys.slice(0, deep).map((key) => (/^\d+$/.test(key) ? Number(key) : key)),
      );
    if (node === undefined) return {};
    const [startLine, startColumn] = placeOf(node.offset);
    const [endLine, endColumn] = placeOf(node.offset + node.length);
    return { region: { startLine, startColumn, endLine, endColumn } };
  };
}

function treeOf(text: string): Node | undefined {
  try {
    return parseTree(text);
  } catch {
    // It is nested too deeply.
    return undefined;
  }
}
