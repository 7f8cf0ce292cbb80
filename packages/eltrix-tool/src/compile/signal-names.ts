/** Development: names signals and computeds after their fields and constants, private fields included. */
import MagicString from 'magic-string';
import type { Plugin } from 'vite';
import { LibraryNames } from '../project/library-names.ts';
import { importedBy } from '../project/passed-names.ts';
import { bare, type Node, parseModule, walk } from '../project/syntax.ts';

const makers = new Set(['signal', 'computed']);

/** Adds the name of the field or constant to each call that creates a signal without options. */
export function nameSignals(file: string, code: string, output: MagicString): boolean {
  if (!/\b(?:signal|computed)\b/.test(code)) return false;
  const parsed = parseModule(file, code);
  if (!parsed) return false;
  const names = new LibraryNames(parsed, importedBy(file));
  let isChanged = false;
  walk(parsed.program, node => {
    const holder =
      node.type === 'PropertyDefinition' && !node['computed']
        ? node['key'].name
        : node.type === 'VariableDeclarator'
          ? node['id'].name
          : undefined;
    const call = holder && (node['value'] ?? node['init']) ? bare(node['value'] ?? node['init']) : undefined;
    if (call?.type !== 'CallExpression' || !makers.has(names.nameOf(call['callee']) ?? '')) return;
    const given = call['arguments'] as Node[];
    if (given.length !== 1 || given[0]!.type === 'SpreadElement') return;
    output.appendLeft(given[0]!.end, `, { name: ${JSON.stringify(holder)} }`);
    isChanged = true;
  });
  return isChanged;
}

/** For servers, and for bundles of modules as written. */
export function signalNames(): Plugin {
  return {
    name: 'eltrix-signal-names',
    enforce: 'pre',
    transform: {
      filter: {
        id: { include: /\.[cm]?[jt]sx?(?:\?|$)/, exclude: [/[\\/]node_modules[\\/]/, /\0/] },
        code: /\beltrix\b/,
      },
      handler(code, id) {
        const output = new MagicString(code);
        if (!nameSignals(id.replace(/\?.*$/, ''), code, output)) return null;
        return { code: output.toString(), map: output.generateMap({ source: id, hires: 'boundary' }) };
      },
    },
  };
}
