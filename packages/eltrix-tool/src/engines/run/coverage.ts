/** Coverage of the author's sources by lines and branches, from what V8 reports of bundled scripts. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { decodedMappings } from '@jridgewell/trace-mapping';
import type { ScriptCoverage } from '../engine.ts';
import { isLibraryFile } from './library-bundle.ts';
import type { SourcePosition, Sources } from './sources.ts';

/** File to line to count. */
export type LineCounts = ReadonlyMap<string, ReadonlyMap<number, number>>;

/** A branch: one way of a condition, or the body of a loop or function. */
interface Branch {
  readonly line: number;
  readonly column: number;
  count: number;
}

/** The counts of a bundled script in all pages. */
interface Counted {
  readonly counts: Float64Array;
  /** The starts of blocks that V8 counts separately in any page. */
  readonly blocks: Set<number>;
  readonly positionOf: (offset: number) => SourcePosition | undefined;
}

export interface CoverageRow {
  readonly file: string;
  readonly covered: number;
  readonly all: number;
  readonly coveredBranches: number;
  readonly allBranches: number;
  /** Lines that never ran. */
  readonly missing: string;
}

export class Coverage {
  readonly #lines = new Map<string, Map<number, number>>();
  readonly #scripts = new Map<string, Counted>();

  constructor(readonly isTest: (file: string) => boolean) {}

  add(scripts: readonly ScriptCoverage[], sources: Sources): void {
    for (const { url, functions } of scripts) {
      const file = /\/files\/([\w.-]+\.js)$/.exec(url)?.[1];
      if (file && isLibraryFile(file)) continue;
      const code = file && (sources.files.get(file) as string | undefined);
      const map = file ? sources.map(file) : null;
      if (!code || !map) continue;
      const counts = countByOffset(functions, code.length);
      const starts = lineStarts(code);
      this.#count(file, code, counts, functions, starts, sources);
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

  /**
   * V8 counts a block separately only if its count differs from that of the enclosing block: other pages complete the
   * list.
   */
  #count(
    file: string,
    code: string,
    counts: Float64Array,
    functions: ScriptCoverage['functions'],
    starts: readonly number[],
    sources: Sources,
  ): void {
    let script = this.#scripts.get(file);
    if (script?.counts.length !== code.length) {
      const positionOf = (offset: number) => {
        const line = starts.findLastIndex(start => start <= offset);
        return sources.position(file, line + 1, offset - starts[line]! + 1);
      };
      this.#scripts.set(file, (script = { counts: new Float64Array(code.length), blocks: new Set(), positionOf }));
    }
    counts.forEach((count, offset) => {
      script.counts[offset]! += count;
    });
    for (const { ranges } of functions) for (const { startOffset } of ranges.slice(1)) script.blocks.add(startOffset);
  }

  /** Sources that no test has loaded: none of their lines ran. */
  addUnloaded(file: string, lines: Iterable<number>): void {
    if (this.#lines.has(file) || this.isTest(file)) return;
    this.#lines.set(file, new Map([...lines].map(line => [line, 0])));
  }

  #branches(): Map<string, Branch[]> {
    const found = new Map<string, Map<string, Branch>>();
    for (const { counts, blocks, positionOf } of this.#scripts.values())
      for (const offset of blocks) {
        const at = positionOf(offset);
        if (!at || !this.#lines.has(at.file)) continue;
        const ofFile = found.get(at.file) ?? new Map<string, Branch>();
        found.set(at.file, ofFile);
        const key = `${at.line}:${at.column}`;
        const known = ofFile.get(key);
        if (known) known.count = Math.max(known.count, counts[offset]!);
        else ofFile.set(key, { line: at.line, column: at.column, count: counts[offset]! });
      }
    const inOrder = (a: Branch, b: Branch) => a.line - b.line || a.column - b.column;
    return new Map([...found].map(([file, branches]) => [file, [...branches.values()].sort(inOrder)]));
  }

  /** Files in the order of their names. */
  rows(): CoverageRow[] {
    const branches = this.#branches();
    return [...this.#lines]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([file, lines]) => {
        const missing = [...lines].filter(([, count]) => count === 0).map(([line]) => line);
        const own = branches.get(file) ?? [];
        return {
          file,
          covered: lines.size - missing.length,
          all: lines.size,
          coveredBranches: own.filter(({ count }) => count > 0).length,
          allBranches: own.length,
          missing: ranges(missing),
        };
      });
  }

  /** Writes `lcov.info`. */
  writeLcov(root: string, path: string): void {
    const branches = this.#branches();
    const records = [...this.#lines]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([file, lines]) => {
        const sorted = [...lines].sort(([a], [b]) => a - b);
        const hit = sorted.filter(([, count]) => count > 0).length;
        const own = branches.get(file) ?? [];
        const ofBranches =
          own.map(({ line, count }, at) => `BRDA:${line},${at},0,${count}\n`).join('') +
          `BRF:${own.length}\nBRH:${own.filter(({ count }) => count > 0).length}\n`;
        return `TN:\nSF:${file}\n${ofBranches}${sorted.map(([line, count]) => `DA:${line},${count}\n`).join('')}LF:${lines.size}\nLH:${hit}\nend_of_record\n`;
      });
    const target = join(root, path);
    mkdirSync(dirname(target), { recursive: true });
    writeFileSync(target, records.join(''));
  }
}

/** The count of the code at each offset: the innermost range counts. */
function countByOffset(functions: ScriptCoverage['functions'], length: number): Float64Array {
  const counts = new Float64Array(length);
  const all = functions.flatMap(({ ranges }) => ranges);
  // Larger ranges first, so that inner ranges overwrite them.
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
