import { readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import ts from 'typescript';
import { root } from './paths';

// Finds where the name of a kind of fixture or step stands as a literal: such a place knows a kind that should know itself.

export interface Found {
  file: string;
  line: number;
  name: string;
}

/** The names of the kinds, read from their two registries. */
export function kindNames(): { fixtures: string[]; steps: string[] } {
  const names = (registry: string): string[] => {
    const text = readFileSync(join(root, 'packages/core/src/kinds', registry, 'index.ts'), 'utf8');
    const table = /const table = \{([^}]*)\}/.exec(text)![1]!;
    return [...table.matchAll(/^\s*'?([a-z-]+)'?\s*[:,]/gm)].map((match) => match[1]!);
  };
  return { fixtures: names('fixtures'), steps: names('steps') };
}

/**
 * Every literal in the sources of some projects that names a kind where a kind is meant: by the type of what it is compared with,
 * chosen from or given to. All are read as one program, with the settings of the first.
 */
export function literalsOf(projects: readonly string[], sources: RegExp): Found[] {
  const names = kindNames();
  const fixtures = new Set(names.fixtures);
  const steps = new Set(names.steps);
  const parsed = projects.map((project) => {
    const { config } = ts.readConfigFile(join(root, project), (path) => ts.sys.readFile(path)) as { config: unknown };
    return ts.parseJsonConfigFileContent(config, ts.sys, join(root, project, '..'));
  });
  const files = parsed.flatMap(({ fileNames }) => fileNames).filter((file) => sources.test(relative(root, file)));
  const program = ts.createProgram(files, { ...parsed[0]!.options, noEmit: true });
  const checker = program.getTypeChecker();
  const found: Found[] = [];

  /** Whether a type is one of kinds: all of its texts name some, or it has all of them and more. */
  const isOfKinds = (type: ts.Type | undefined, kinds: ReadonlySet<string>): boolean => {
    if (type === undefined) return false;
    const parts = type.isUnion() ? type.types : [type];
    const texts = parts.flatMap((part) => (part.isStringLiteral() ? [part.value] : []));
    const known = texts.filter((text) => kinds.has(text)).length;
    // A single word may mean something else by the same name, as an edit may be to remove.
    return (known === texts.length && (texts.length > 1 || kinds === fixtures) && known > 0) || known === kinds.size;
  };

  /** What a literal is measured against: what it is compared with, or what is expected where it stands. */
  const meantBy = (node: ts.Expression): ts.Type | undefined => {
    const { parent } = node;
    if (ts.isBinaryExpression(parent) && /^[!=]==?$/.test(parent.operatorToken.getText()))
      return checker.getTypeAtLocation(parent.left === node ? parent.right : parent.left);
    if (ts.isCaseClause(parent)) return checker.getTypeAtLocation(parent.parent.parent.expression);
    return checker.getContextualType(node);
  };

  const visit = (node: ts.Node): void => {
    const text = ts.isStringLiteralLike(node)
      ? node.text
      : ts.isPropertyAssignment(node)
        ? node.name.getText().replace(/'/g, '')
        : '';
    if (fixtures.has(text) || steps.has(text)) {
      const meant = ts.isStringLiteralLike(node)
        ? ts.isLiteralTypeNode(node.parent)
          ? checker.getTypeFromTypeNode(node.parent.parent as ts.TypeNode)
          : meantBy(node)
        : undefined;
      const isHit = ts.isPropertyAssignment(node)
        ? hasAllKeys(checker.getContextualType(node.parent))
        : (fixtures.has(text) && isOfKinds(meant, fixtures)) ||
          (steps.has(text) && isOfKinds(meant, steps)) ||
          isBareFixture(node, meant);
      if (isHit) {
        const file = node.getSourceFile();
        found.push({
          file: relative(root, file.fileName),
          line: file.getLineAndCharacterOfPosition(node.getStart()).line + 1,
          name: text,
        });
      }
    }
    ts.forEachChild(node, visit);
  };

  /** A table with an entry for each kind of fixture knows them all. */
  const hasAllKeys = (type: ts.Type | undefined): boolean =>
    type !== undefined && names.fixtures.every((name) => type.getProperty(name) !== undefined);

  /** The name of a fixture in a list or a type of which nothing says what is meant. */
  const isBareFixture = (node: ts.Node, meant: ts.Type | undefined): boolean => {
    if (!ts.isStringLiteralLike(node) || !fixtures.has(node.text)) return false;
    // A type of this one text alone, as in a parameter of another type.
    if (ts.isLiteralTypeNode(node.parent)) return !ts.isUnionTypeNode(node.parent.parent);
    return meant === undefined && ts.isArrayLiteralExpression(node.parent);
  };

  for (const file of program.getSourceFiles()) {
    const path = relative(root, file.fileName);
    if (!file.isDeclarationFile && sources.test(path)) ts.forEachChild(file, visit);
  }
  return found;
}
