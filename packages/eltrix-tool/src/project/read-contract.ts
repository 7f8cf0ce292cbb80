/** Reads contracts from the source, without loading the module. */
import * as contracts from '../../../eltrix/src/contract/index.ts';
import { contract } from '../../../eltrix/src/element/contract.ts';
import { contractKey } from '../../../eltrix/src/element/contract-key.ts';
import type { Contract } from '../../../eltrix/src/element/plan.ts';
import { bare, type Node, parseModule, walk } from './syntax.ts';
import { positionIn } from './text-position.ts';
import { excerptOf, ToolError } from './tool-error.ts';

/** The functions that a declaration may call. */
const library = new Map<string, unknown>(Object.entries(contracts));

export interface ReadElement {
  readonly exportName: string;
  readonly contract: Contract;
}

/**
 * @returns the elements that a module exports, or undefined if it has to be loaded.
 * @throws ToolError for an invalid declaration, with the message of `contract()`.
 */
export async function readContracts(file: string, path: string, code: string): Promise<ReadElement[] | undefined> {
  const parsed = parseModule(path, code);
  if (!parsed) return undefined;
  const imported = new Map<string, string>();
  const found: { name: string; call: Node }[] = [];
  for (const statement of parsed.program['body'] as Node[]) {
    if (statement.type === 'ImportDeclaration' && statement['source']['value'] === 'eltrix') {
      for (const specifier of statement['specifiers'] as Node[]) {
        if (specifier.type !== 'ImportSpecifier') return undefined;
        imported.set(specifier['local']['name'], specifier['imported']['name']);
      }
    }
    if (statement.type === 'ExportAllDeclaration') continue;
    if (statement.type === 'ExportDefaultDeclaration') return undefined;
    if (statement.type !== 'ExportNamedDeclaration') continue;
    // Other exports may be elements as well.
    if (statement['source'] === null && (statement['specifiers'] as Node[]).length > 0) return undefined;
    const declaration = statement['declaration'] as Node | null;
    if (declaration?.type === 'VariableDeclaration') {
      const makes = (declaration['declarations'] as { init: Node | null }[]).some(
        ({ init }) => init && /^(?:Class|Call)/.test(bare(init).type),
      );
      if (makes) return undefined;
    }
    if (declaration?.type !== 'ClassDeclaration' || !declaration['superClass']) continue;
    const call = bare(declaration['superClass']);
    const callee = call.type === 'CallExpression' ? bare(call['callee']) : undefined;
    const isContract = callee?.type === 'Identifier' && imported.get(callee['name']) === 'contract';
    if (!isContract || (call['arguments'] as Node[]).length !== 2) return undefined;
    found.push({ name: declaration['id']['name'], call });
  }
  const elements: ReadElement[] = [];
  for (const { name, call } of found) {
    const given = evaluate(call, code, imported);
    if (!given) return undefined;
    elements.push({ exportName: name, contract: made(given, call, file, code) });
  }
  return elements;
}

type Given = [tag: string, declaration: object];

/** The arguments of a call, if they contain nothing but literals and calls of the library's kinds. */
function evaluate(call: Node, code: string, imported: ReadonlyMap<string, string>): Given | undefined {
  const names = [...imported].filter(([, name]) => library.has(name));
  const run = (text: string) => {
    // Only the declaration itself is evaluated, which creates data.
    const read = new Function(...names.map(([local]) => local), `'use strict'; return [${text}]`) as (
      ...kinds: unknown[]
    ) => Given;
    return read(...names.map(([, name]) => library.get(name)));
  };
  const args = call['arguments'] as Node[];
  if (args.some(runsElsewhere)) return undefined;
  try {
    return run(args.map(node => withoutTypes(node, code)).join(', '));
  } catch {
    return undefined;
  }
}

/** Whether an expression starts something asynchronous, whose error would be uncaught. */
function runsElsewhere(expression: Node): boolean {
  let runs = false;
  walk(expression, ({ type }) => {
    runs ||= /^(?:ImportExpression|AwaitExpression|MetaProperty)$/.test(type);
    return !runs;
  });
  return runs;
}

/** An expression as JavaScript, if its TypeScript syntax is types only. */
function withoutTypes(expression: Node, code: string): string {
  const types: (readonly [start: number, end: number])[] = [];
  walk(expression, ({ type, start, end, expression }) => {
    if (/^TSType(?:ParameterInstantiation|ParameterDeclaration|Annotation)$/.test(type)) types.push([start, end]);
    else if (/^TS(?:As|Satisfies|NonNull)Expression$/.test(type)) types.push([(expression as Node).end, end]);
    else if (type === 'TSTypeAssertion') types.push([start, (expression as Node).start]);
    else return true;
    return /Expression$|Assertion$/.test(type);
  });
  let text = '';
  let at = expression.start;
  for (const [start, end] of types.sort((a, b) => a[0] - b[0])) {
    if (start < at) continue;
    text += code.slice(at, start);
    at = end;
  }
  return text + code.slice(at, expression.end);
}

function made([tag, declaration]: Given, call: Node, file: string, code: string): Contract {
  try {
    return (contract as unknown as (...given: unknown[]) => Record<symbol, Contract>)(tag, declaration)[contractKey]!;
  } catch (error) {
    const { line, column } = positionIn(code, call.start);
    const [, name = 'source-error', message] = /^(?:\(([a-z-]+)\): )?([^]*)$/.exec((error as Error).message)!;
    throw new ToolError(name, message!, { file, line, column }, excerptOf(code, line, column));
  }
}
