/** Writes inline snapshots into test files. */
import { readFileSync, writeFileSync } from 'node:fs';
import MagicString from 'magic-string';
import { type Node, parseModule, walk } from '../../../project/syntax.ts';
import { offsetOf, withLineEndsOf } from '../../../project/text-position.ts';
import { quoted } from './snapshot-file.ts';

export interface InlineSnapshot {
  /** The position of the call; line and column from 1. */
  readonly line: number;
  readonly column: number;
  readonly text: string;
}

/** @returns the snapshots whose call was not found. */
export function writeInline(path: string, snapshots: readonly InlineSnapshot[]): InlineSnapshot[] {
  const code = readFileSync(path, 'utf8');
  const parsed = parseModule(path, code);
  if (!parsed) return [...snapshots];
  const calls: Node[] = [];
  const names = localNames(parsed.program);
  walk(parsed.program, node => {
    if (node.type === 'CallExpression' && node['callee'].type === 'Identifier' && names.has(node['callee'].name))
      calls.push(node);
  });
  const written = new MagicString(code);
  const missing = snapshots.filter(({ line, column, text }) => {
    const at = offsetOf(code, { line, column });
    // Engines report the position of the callee, or of the parenthesis after it.
    const call = calls.findLast(({ start, end }) => start <= at && at < end);
    const [value, stored] = (call?.['arguments'] ?? []) as Node[];
    if (!call || !value) return true;
    const literal = withLineEndsOf(
      code,
      indented(text, /^[ \t]*/.exec(code.slice(code.lastIndexOf('\n', call.start - 1) + 1))![0]),
    );
    if (stored) written.overwrite(stored.start, stored.end, literal);
    else written.appendLeft(value.end, `, ${literal}`);
    return false;
  });
  if (missing.length < snapshots.length) writeFileSync(path, written.toString());
  return missing;
}

/** The local names under which a module imports the function. */
function localNames(program: Node): Set<string> {
  const names = new Set<string>();
  for (const { type, source, specifiers } of program['body'] as Node[]) {
    if (type !== 'ImportDeclaration' || source.value !== 'eltrix-tool/testing') continue;
    for (const { imported, local } of specifiers)
      if (imported?.name === 'checkInlineSnapshot') names.add(local.name as string);
  }
  return names;
}

/** A text of several lines is indented below the call. */
function indented(text: string, indent: string): string {
  if (!text.includes('\n')) return quoted(text);
  const lines = text.split('\n').map(line => (line ? `${indent}  ${line}` : line));
  return quoted(`\n${lines.join('\n')}\n${indent}`);
}
