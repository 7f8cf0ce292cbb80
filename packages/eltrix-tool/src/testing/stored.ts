/** Stored snapshots: in a file beside the test file, or inline in the test. */
import { AssertionError } from './assert.ts';
import { snapshot } from './deep.ts';
import { host } from './host.ts';

const acceptHint = 'Look at it, and accept it: npx eltrix test --accept';

function store() {
  const { stored } = host();
  if (stored) return stored;
  throw new Error('(no-snapshots): Stored snapshots need `npx eltrix test`.');
}

/** Compares a text with the stored snapshot of the running test; each call in a test has a number. */
export function checkStored(text: string): void {
  const { known, accept, nextKey, report } = store();
  const key = nextKey();
  if (key === undefined) throw new Error('(no-snapshots): A stored snapshot belongs to a test, and none is running.');
  report({ type: 'snapshot', key, text });
  if (accept) return;
  compare(text, Object.hasOwn(known, key) ? known[key] : undefined);
}

function compare(text: string, before: string | undefined): void {
  if (before === text) return;
  if (before === undefined)
    throw Object.assign(
      new AssertionError({
        message: `(snapshot-missing): No snapshot is stored for this yet. It is:\n\n${text}\n\n${acceptHint}`,
        actual: text,
        expected: undefined,
        operator: 'snapshot',
      }),
    );
  const error = new AssertionError({ actual: text, expected: before, operator: 'strictEqual' });
  error.message = `(snapshot-differs): ${error.message}\n\n${acceptHint}`;
  throw error;
}

const textOf = (value: unknown): string =>
  typeof value === 'string'
    ? value
    : typeof Element === 'function' && value instanceof Element
      ? snapshot(value)
      : (JSON.stringify(value, null, 2) ?? String(value));

/**
 * Compares an element's `snapshot`, a text, or a value as JSON with the stored one in `<test file>.snapshot`. `npx
 * eltrix test --accept` stores the present one.
 *
 * @throws AssertionError if it differs, or none is stored.
 * @example checkSnapshot(card);
 */
export function checkSnapshot(value: unknown): void {
  checkStored(textOf(value));
}

/**
 * The same, stored in the test itself: `npx eltrix test --accept` writes the second argument.
 *
 * @param stored lines may have a common indentation.
 * @throws AssertionError if it differs, or none is stored.
 * @example checkInlineSnapshot(card, `<hive-card name="Rosemary"></hive-card>`);
 */
export function checkInlineSnapshot(value: unknown, stored?: string): void {
  const { accept, report } = store();
  const text = textOf(value);
  if (accept) {
    if (stored === undefined || withoutIndent(stored) !== text)
      report({ type: 'inline-snapshot', site: new Error().stack ?? '', text });
    return;
  }
  compare(text, stored === undefined ? undefined : withoutIndent(stored));
}

/** A text of several lines without its first and last empty line, and without the common indentation. */
export function withoutIndent(text: string): string {
  if (!text.includes('\n')) return text;
  const lines = text.split('\n');
  if (lines[0]!.trim() === '') lines.shift();
  if (lines.at(-1)?.trim() === '') lines.pop();
  const indents = lines.filter(line => line.trim() !== '').map(line => line.length - line.trimStart().length);
  const common = Math.min(...indents);
  return lines.map(line => line.slice(Number.isFinite(common) ? common : 0)).join('\n');
}
