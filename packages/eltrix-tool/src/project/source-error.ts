import { existsSync, readFileSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { excerptOf, type Position, ToolError } from './tool-error.ts';

/** What bundlers and runners attach to an error about a source file. */
interface BundlerError {
  readonly message?: string;
  readonly id?: string;
  readonly loc?: { readonly file?: string; readonly line: number; readonly column: number };
  readonly frame?: string;
  readonly stack?: string;
  readonly errors?: readonly BundlerError[];
}

/** An error of a bundler or of a loaded module as an error of the tool: file, line, column, excerpt. */
export function sourceError(error: unknown, root: string): ToolError {
  if (error instanceof ToolError) return error;
  const given = error as BundlerError;
  const inner = given.errors?.[0] ?? given;
  // A message of the library begins with its own code.
  const [, code = 'source-error', message] = /^(?:\(([a-z-]+)\): )?(.*)$/s.exec(
    firstLine(inner.message ?? String(error)),
  ) as unknown as [string, string | undefined, string];
  const position = positionOf(inner, root);
  if (!position) return new ToolError(code, message);
  const path = join(root, position.file);
  const excerpt =
    position.line !== undefined && existsSync(path)
      ? excerptOf(readFileSync(path, 'utf8'), position.line, position.column ?? 1)
      : undefined;
  return new ToolError(code, message, position, excerpt);
}

function positionOf({ loc, id, message = '', stack = '' }: BundlerError, root: string): Position | undefined {
  const inProject = (file: string) =>
    relative(root, resolve((file.startsWith('file://') ? fileURLToPath(file) : file).replace(/\?.*$/, '')));
  // The bundler draws `╭─[ src/hive-card.ts:12:5 ]`; a stack names the place as `file:///…/hive-card.ts:12:5`.
  const drawn = /╭─\[\s*([^\]\n]+?):(\d+):(\d+)\s*\]/.exec(withoutColours(message));
  if (drawn) return { file: inProject(drawn[1]!), line: +drawn[2]!, column: +drawn[3]! };
  const file = loc?.file ?? id;
  if (file && loc) return { file: inProject(file), line: loc.line, column: loc.column + 1 };
  for (const [, file, line, column] of stack.matchAll(
    /(?<=^\s+at (?:.* \()?)((?:file:\/\/)?\/.*?):(\d+):(\d+)\)?$/gm,
  )) {
    const path = inProject(file!);
    if (path.startsWith('..') || path.includes('node_modules') || !existsSync(join(root, path))) continue;
    return { file: path, line: +line!, column: +column! };
  }
  const importer = file ?? /failed to resolve import .* from "([^"]+)"/.exec(message)?.[1];
  return importer ? { file: inProject(importer) } : undefined;
}

function withoutColours(text: string): string {
  return text.replace(/\u001b\[[0-9;]*m/g, '');
}

function firstLine(message: string): string {
  const lines = withoutColours(message)
    .split('\n')
    .map(line => line.trim())
    .filter(Boolean);
  const telling =
    lines.find(
      line => !/^(?:\[?PARSE_ERROR\]?\s*$|Transform failed|Build failed|Error:?\s*Build failed)/i.test(line),
    ) ??
    lines[0] ??
    'unknown error';
  return telling.replace(/^\[[\w:-]+\]:?\s*(?:(?:Error|Warning):\s*)?/, '');
}
