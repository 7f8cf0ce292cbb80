/** Maps positions in bundled files to the author's lines. */
import { existsSync, readFileSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import { ownModules } from '../../project/library.ts';
import { excerptOf } from '../../project/tool-error.ts';
import type { ReportedError } from '../../testing/serialize.ts';

export interface SourcePosition {
  /** Relative to the project's folder. */
  readonly file: string;
  readonly line: number;
  readonly column: number;
}

export class Sources {
  readonly #maps = new Map<string, TraceMap | null>();
  /** The files of sources, by their names in source maps; undefined for missing files. */
  readonly #paths = new Map<string, string | undefined>();

  constructor(
    readonly root: string,
    readonly files: ReadonlyMap<string, string | Uint8Array>,
  ) {}

  map(file: string): TraceMap | null {
    let map = this.#maps.get(file);
    if (map === undefined) {
      const text = this.files.get(`${file}.map`) as string | undefined;
      map = text ? new TraceMap(text) : null;
      this.#maps.set(file, map);
    }
    return map;
  }

  /** The author's position for a position in a bundled file; line and column from 1. */
  position(file: string, line: number, column: number): SourcePosition | undefined {
    const map = this.map(file);
    if (!map) return undefined;
    const found = originalPositionFor(map, { line, column: column - 1 });
    if (found.source === null) return undefined;
    const path = this.#pathOf(found.source);
    if (path === undefined) return undefined;
    return { file: relative(this.root, path).replaceAll('\\', '/'), line: found.line, column: found.column + 1 };
  }

  /** The names of sources are relative to the bundle's place. */
  #pathOf(source: string): string | undefined {
    if (!this.#paths.has(source)) {
      const places = [
        resolve(this.root, source.replace(/^(?:\.\.\/)+(?=\w)/, '')),
        resolve(this.root, 'dist', source),
        resolve(this.root, 'dist/x', source),
        `/${source.replace(/^(?:\.\.\/)+/, '')}`,
      ];
      this.#paths.set(source, places.find(existsSync));
    }
    return this.#paths.get(source);
  }

  /** The stack frames in the project's sources, for any engine. */
  frames(stack: string): { readonly name: string; readonly at: SourcePosition }[] {
    const frames: { name: string; at: SourcePosition }[] = [];
    for (const line of stack.split('\n')) {
      // `    at name (url:1:2)` in Chromium, `name@url:1:2` in Firefox and WebKit.
      const [, file, l, c] = /\/(?:files|eltrix-simulated-\w+)\/([\w.-]+\.js)(?:\?[^:]*)?:(\d+):(\d+)/.exec(line) ?? [];
      if (!file) continue;
      const at = this.position(file, Number(l), Number(c));
      if (!at || at.file.startsWith('..') || at.file.includes('node_modules') || at.file.startsWith('dist/')) continue;
      // In a workspace with links, the packages themselves are inside the project.
      if (ownModules.test(join(this.root, at.file))) continue;
      const name = /^\s*at (?:async )?([^\s(]+) \(/.exec(line)?.[1] ?? /^([^@]*)@/.exec(line)?.[1] ?? '';
      frames.push({ name, at });
    }
    return frames;
  }

  /** The position of a test, from the stack of its registration. */
  site(stack: string): { readonly path: string; readonly line: number; readonly column: number } | undefined {
    const [first] = this.frames(stack);
    if (!first) return undefined;
    const { file, line, column } = first.at;
    return { path: join(this.root, file), line, column };
  }

  /** Converts an error of a page to one of Node: with the author's line and an excerpt. */
  revive(reported: ReportedError): Error {
    const { name, message, stack, code, cause } = reported;
    const frames = this.frames(stack);
    const [first] = frames;
    const excerpt = first ? `\n\n${indent(this.excerpt(first.at))}` : '';
    const error = new Error(message + excerpt, cause ? { cause: this.revive(cause) } : undefined);
    error.name = name;
    const lines = frames.map(
      ({ name, at }) => `    at ${name ? `${name} (` : ''}${at.file}:${at.line}:${at.column}${name ? ')' : ''}`,
    );
    error.stack = `${name}: ${error.message}${lines.length > 0 ? `\n\n${lines.join('\n')}` : ''}`;
    if (code) Object.assign(error, { code });
    return error;
  }

  excerpt({ file, line, column }: SourcePosition): string {
    const path = join(this.root, file);
    return existsSync(path) ? excerptOf(readFileSync(path, 'utf8'), line, column) : '';
  }
}

function indent(text: string): string {
  return text
    .split('\n')
    .map(line => `  ${line}`)
    .join('\n');
}
