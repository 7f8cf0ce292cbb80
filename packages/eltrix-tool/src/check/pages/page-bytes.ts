/** Reads and writes pages so that all other bytes stay unchanged. */
import { chmodSync, readFileSync, realpathSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Edit } from '../../project/finding.ts';

export interface PageBytes {
  readonly text: string;
  /** The reason why the page cannot be fixed without losing bytes, if there is one. */
  whyKept(edits: readonly Edit[]): string | undefined;
  bytesOf(text: string): Uint8Array;
}

const utf8 = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });

/**
 * Distinguishes UTF-8, UTF-16 with a byte order mark, and encodings with one byte per character that extend ASCII:
 * such a page can be read and written without knowing which one it uses.
 * @param file a path, or 0 for stdin.
 */
export function readPage(file: string | 0): PageBytes {
  const bytes = readFileSync(file);
  const [a, b] = bytes;
  if ((a === 0xff && b === 0xfe) || (a === 0xfe && b === 0xff)) {
    const text = new TextDecoder(a === 0xff ? 'utf-16le' : 'utf-16be', { ignoreBOM: true }).decode(bytes);
    return { text, whyKept: () => 'the page is UTF-16. Save it as UTF-8 first.', bytesOf: text => Buffer.from(text) };
  }
  try {
    return { text: utf8.decode(bytes), whyKept: () => undefined, bytesOf: text => Buffer.from(text, 'utf8') };
  } catch {
    const text = bytes.toString('latin1');
    return {
      text,
      whyKept(edits) {
        const [, charset = ''] = /<meta\s[^>]*charset\s*=\s*["']?\s*([\w-]+)/i.exec(text) ?? [];
        if (/^(?:shift|sjis|gb|big5|euc|iso-2022|utf-?16)/i.test(charset))
          return `its encoding, ${charset}, has letters of several bytes. Save it as UTF-8 first.`;
        const strange = edits.find(({ text }) => /[^\x20-\x7e]/.test(text));
        return strange && `it is not UTF-8, and "${strange.text}" has letters beyond ASCII. Save it as UTF-8 first.`;
      },
      bytesOf: text => Buffer.from(text, 'latin1'),
    };
  }
}

/** Replaces a file as a whole, so that no partial file remains; permissions stay. */
export function writePage(path: string, bytes: Uint8Array): void {
  const file = realpathSync(path);
  const fresh = join(dirname(file), `.${basename(file)}.eltrix-${process.pid}`);
  try {
    writeFileSync(fresh, bytes);
    chmodSync(fresh, statSync(file).mode & 0o7777);
    renameSync(fresh, file);
  } catch (error) {
    rmSync(fresh, { force: true });
    throw error;
  }
}
