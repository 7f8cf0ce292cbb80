/** The snapshots of a run: stored, received and accepted ones. */
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { StoredSnapshots } from '../../../testing/plan.ts';
import { type InlineSnapshot, writeInline } from './inline.ts';
import { printSnapshots, readSnapshots } from './snapshot-file.ts';

/** The snapshots of one test file. */
interface OfFile {
  readonly known: Record<string, string>;
  /** By key: the text, and the first engine that sent it. */
  readonly came: Map<string, { readonly text: string; readonly engine: string }>;
  /** By file, line and column. */
  readonly inline: Map<string, InlineSnapshot & { readonly path: string }>;
  /** Whether all tests of the file have run. */
  whole: boolean;
}

export class Snapshots {
  readonly #files = new Map<string, OfFile>();
  readonly #problems = new Set<string>();

  constructor(
    readonly root: string,
    readonly accept: boolean,
  ) {}

  #of(file: string): OfFile {
    let of = this.#files.get(file);
    if (!of) {
      const known = readSnapshots(join(this.root, `${file}.snapshot`), `${file}.snapshot`);
      this.#files.set(file, (of = { known, came: new Map(), inline: new Map(), whole: true }));
    }
    return of;
  }

  /** @throws ToolError for a snapshot file that cannot be read. */
  forPage(file: string): StoredSnapshots {
    return { known: this.#of(file).known, accept: this.accept };
  }

  hear(engine: string, file: string, key: string, text: string): void {
    const { came } = this.#of(file);
    const before = came.get(key);
    if (!before) came.set(key, { text, engine });
    else if (this.accept && before.text !== text)
      this.#problems.add(
        `${file}: "${key}" differs between ${before.engine} and ${engine}. Leave out what differs, or test it in one engine.`,
      );
  }

  hearInline(file: string, at: InlineSnapshot & { readonly path: string }): void {
    const { inline } = this.#of(file);
    const key = `${at.path}:${at.line}:${at.column}`;
    const before = inline.get(key);
    if (before && before.text !== at.text) this.#problems.add(`${key} has several values. An inline snapshot has one.`);
    else inline.set(key, at);
  }

  /** Some tests of the file did not run, so unused snapshots may be needed. */
  partly(file: string): void {
    this.#of(file).whole = false;
  }

  /** Writes accepted snapshots. @returns what was written, and what could not be. */
  finish(): { readonly notes: readonly string[]; readonly problems: readonly string[] } {
    const notes: string[] = [];
    for (const [file, { known, came, inline, whole }] of this.#files) {
      const unused = whole ? Object.keys(known).filter(key => !came.has(key)) : [];
      if (!this.accept) {
        for (const key of unused) notes.push(`${file}.snapshot: "${key}" is not used. --accept removes it.`);
        continue;
      }
      const next = { ...known, ...Object.fromEntries([...came].map(([key, { text }]) => [key, text])) };
      for (const key of unused) delete next[key];
      if (printSnapshots(next) !== printSnapshots(known)) {
        const path = join(this.root, `${file}.snapshot`);
        const count = Object.keys(next).length;
        if (count === 0) rmSync(path, { force: true });
        else writeFileSync(path, printSnapshots(next));
        notes.push(`${file}.snapshot has ${count} snapshot${count === 1 ? '' : 's'}.`);
      }
      for (const [path, list] of byPath(inline.values())) {
        for (const { line } of writeInline(path, list))
          this.#problems.add(`${path}:${line} has no call of checkInlineSnapshot() that could be written.`);
        notes.push(`${file} has ${list.length} snapshot${list.length === 1 ? '' : 's'} written into it.`);
      }
    }
    return { notes, problems: [...this.#problems] };
  }
}

function byPath<T extends { readonly path: string }>(values: Iterable<T>): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const value of values) groups.set(value.path, [...(groups.get(value.path) ?? []), value]);
  return groups;
}
