/**
 * Rejects syntax that no engine supports yet, at its position: bundlers leave it unchanged, and pages would fail
 * later.
 */
import { readFileSync } from 'node:fs';
import { relative } from 'node:path';
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import type { Plugin } from 'vite';
import { positionIn } from './text-position.ts';
import { excerptOf, ToolError } from './tool-error.ts';

const ways: Readonly<Record<string, readonly [what: string, instead: string]>> = {
  AccessorProperty: ['an accessor field', 'Write a private field with get and set'],
  Decorator: [
    'a decorator',
    'Call a function instead, or let TypeScript take it out ("experimentalDecorators": true in tsconfig.json)',
  ],
};

/** A quick test for modules that may contain such syntax; others are not parsed again. */
const perhaps = /\baccessor\s+[\w#$["']|^[ \t]*@[\w$.]+(?:\(.*\))?\s*(?:$|[\w#$["'])/m;

/** @param report receives the error, since a bundler wraps errors that are thrown. */
export function refuseUnknownSyntax(root: string): Plugin {
  return {
    name: 'eltrix-engine-syntax',
    // TypeScript syntax has been removed already.
    enforce: 'post',
    transform: {
      filter: { id: /^[^\0]/, code: perhaps },
      handler(code, id) {
        const found = firstOf(this.parse(code));
        if (!found) return;
        const [what, instead] = ways[found.type]!;
        const made = positionIn(code, found.start);
        const map = new TraceMap(this.getCombinedSourcemap() as ConstructorParameters<typeof TraceMap>[0]);
        const place = originalPositionFor(map, { line: made.line, column: made.column - 1 });
        const path = id.replace(/\?.*$/, '');
        const file = relative(root, path).replaceAll('\\', '/');
        const line = place.line ?? made.line;
        const column = (place.column ?? 0) + 1;
        throw new ToolError(
          'engine-syntax',
          `There is ${what} here, which no engine runs yet. ${instead}. Nothing was written.`,
          { file, line, column },
          excerptOf(readFileSync(path, 'utf8'), line, column),
        );
      },
    },
  };
}

interface SyntaxNode {
  readonly type: string;
  readonly start: number;
}

function firstOf(node: unknown): SyntaxNode | undefined {
  if (node === null || typeof node !== 'object') return undefined;
  if (Array.isArray(node)) {
    for (const item of node) {
      const found = firstOf(item);
      if (found) return found;
    }
    return undefined;
  }
  if ('type' in node && (node.type as string) in ways) return node as SyntaxNode;
  return firstOf(Object.values(node));
}
