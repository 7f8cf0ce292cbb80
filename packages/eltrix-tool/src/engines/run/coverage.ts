/** Line coverage of the author's sources, from what V8 says of bundled scripts. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { decodedMappings } from '@jridgewell/trace-mapping';
import type { ScriptCoverage } from '../engine.ts';
import type { Sources } from './sources.ts';

/** File to line to how often it ran. */
export type LineCounts = ReadonlyMap<string, ReadonlyMap<number, number>>;

export class Coverage {
  readonly #lines = new Map<string, Map<number, number>>();

  constructor(readonly isTest: (file: string) => boolean) {}

  add(scripts: readonly ScriptCoverage[], sources: Sources): void {
    for (const { url, functions } of scripts) {
      const file = /\/files\/([\w.-]+\.js)$/.exec(url)?.[1];
      const code = file && (sources.files.get(file) as string | undefined);
      const map = file ? sources.map(file) : null;
      if (!code || !map) continue;
      const counts = countByOffset(functions, code.length);
      const starts = lineStarts(code);
      const seen = new Map<string, Map<number, number>>();
      decodedMappings(map).forEach((segments, line) => {
        for (const [column] of segments) {
          const at = sources.position(file!, line + 1, column + 1);
          if (
            !at ||
            at.file.startsWith('..') ||
            /(?:^|\/)(?:node_modules|dist)\//.test(at.file) ||
            this.isTest(at.file)
          )
            continue;
          const lines = seen.get(at.file) ?? new Map<number, number>();
          seen.set(at.file, lines);
          const count = counts[starts[line]! + column] ?? 0;
          lines.set(at.line, Math.max(lines.get(at.line) ?? 0, count));
        }
      });
      for (const [name, lines] of seen) {
        const all = this.#lines.get(name) ?? new Map<number, number>();
        this.#lines.set(name, all);
        for (const [line, count] of lines) all.set(line, (all.get(line) ?? 0) + count);
      }
    }
  }

  /** Files in the order of their names: covered lines, all lines, and those that never ran. */
  rows(): { readonly file: string; readonly covered: number; readonly all: number; readonly missing: string }[] {
    return [...this.#lines]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([file, lines]) => {
        const missing = [...lines].filter(([, count]) => count === 0).map(([line]) => line);
        return { file, covered: lines.size - missing.length, all: lines.size, missing: ranges(missing) };
      });
  }

  /** Writes `lcov.info`. */
  writeLcov(root: string, path: string): void {
    const records = [...this.#lines]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([file, lines]) => {
        const sorted = [...lines].sort(([a], [b]) => a - b);
        const hit = sorted.filter(([, count]) => count > 0).length;
        return `TN:\nSF:${file}\n${sorted.map(([line, count]) => `DA:${line},${count}\n`).join('')}LF:${lines.size}\nLH:${hit}\nend_of_record\n`;
      });
    const target = join(root, path);
    mkdirSync(dirname(target), { recursive: true });
    writeFileSync(target, records.join(''));
  }
}

/** How often the code at each offset ran: the innermost range that holds it counts. */
function countByOffset(functions: ScriptCoverage['functions'], length: number): Float64Array {
  const counts = new Float64Array(length);
  const all = functions.flatMap(({ ranges }) => ranges);
  // Larger ranges first, so that what is inside them is written over them.
  for (const { startOffset, endOffset, count } of all.toSorted(
    (a, b) => b.endOffset - b.startOffset - (a.endOffset - a.startOffset),
  ))
    counts.fill(count, startOffset, endOffset);
  return counts;
}

function lineStarts(code: string): number[] {
  const starts = [0];
  for (let at = code.indexOf('\n'); at >= 0; at = code.indexOf('\n', at + 1)) starts.push(at + 1);
  return starts;
}

/** `3-5, 9`. */
function ranges(lines: readonly number[]): string {
  const sorted = [...lines].sort((a, b) => a - b);
  const parts: string[] = [];
  for (let i = 0; i < sorted.length; ) {
    let k = i;
    while (sorted[k + 1] === sorted[k]! + 1) k++;
    parts.push(i === k ? `${sorted[i]}` : `${sorted[i]}-${sorted[k]}`);
    i = k + 1;
  }
  return parts.join(', ');
}
