/**
 * Files of stored snapshots, `<test file>.snapshot`, in the format of Node's test runner: a module of template
 * literals.
 */
import { readFileSync } from 'node:fs';
import { parseModule } from '../../../project/syntax.ts';
import { ToolError } from '../../../project/tool-error.ts';

/** @throws ToolError for a file with other content. */
export function readSnapshots(path: string, shown: string): Record<string, string> {
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch {
    return {};
  }
  const snapshots: Record<string, string> = {};
  const { program } = parseModule(`${path}.js`, text) ?? {};
  for (const { type, expression } of program?.['body'] ?? [{ type: 'unreadable' }]) {
    const key = type === 'ExpressionStatement' ? literal(expression.left?.property) : undefined;
    const value = key === undefined ? undefined : literal(expression.right);
    if (key === undefined || value === undefined)
      throw new ToolError(
        'snapshot-file',
        `${shown} is not a file of snapshots. Restore it, or delete it and run npx eltrix test --accept.`,
      );
    // Node adds a line break at the start and the end.
    snapshots[key] = value.replace(/^\n|\n$/g, '');
  }
  return snapshots;
}

// biome-ignore lint/suspicious/noExplicitAny: a node of any type.
const literal = (node: any): string | undefined =>
  node?.type === 'TemplateLiteral' && node.quasis.length === 1 ? node.quasis[0].value.cooked : undefined;

export function printSnapshots(snapshots: Readonly<Record<string, string>>): string {
  const order = new Intl.Collator('en', { numeric: true });
  return Object.keys(snapshots)
    .sort(order.compare)
    .map(key => `exports[${quoted(key)}] = ${quoted(`\n${snapshots[key]}\n`)};\n`)
    .join('\n');
}

/** A text as a template literal. */
export const quoted = (text: string): string => `\`${text.replace(/\\|`|\$\{/g, sign => `\\${sign}`)}\``;
