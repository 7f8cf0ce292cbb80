import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { basename, dirname, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { fileURLToPath } from 'node:url';
import { globSync } from 'tinyglobby';
import { identifierPattern } from './identifier-pattern.ts';
import { nearest } from './nearest.ts';
import { parseSync } from './parser.ts';
import { positionIn, type TextPosition } from './text-position.ts';
import { excerptOf, type Position, ToolError } from './tool-error.ts';

/** Data that bundlers and runners add to an error in a source file. */
interface BundlerError {
  readonly message?: string;
  readonly id?: string;
  readonly loc?: { readonly file?: string; readonly line: number; readonly column: number };
  readonly frame?: string;
  readonly stack?: string;
  readonly errors?: readonly BundlerError[];
}

/** Converts an error of a bundler or of a loaded module: file, line, column, excerpt. */
export function sourceError(error: unknown, root: string): ToolError {
  const given = error as BundlerError;
  const inner = given?.errors?.[0] ?? given;
  // A bundler keeps the error of a plugin, and overwrites its code.
  if (inner instanceof ToolError)
    return inner.pluginCode === undefined
      ? inner
      : new ToolError(inner.pluginCode, inner.message, inner.position, inner.excerpt, inner.exitCode);
  const text = withoutColours(inner?.message ?? '');
  const missing = missingImport(text, root) ?? missingEntry(text, root) ?? missingExport(text, inner ?? {}, root);
  if (missing) return missing;
  // The library's messages start with their code.
  const [, code = 'source-error', message] = /^(?:\(([a-z-]+)\): )?(.*)$/s.exec(
    firstLine(inner?.message ?? String(error)).replaceAll(root + sep, ''),
  ) as unknown as [string, string | undefined, string];
  const position = positionOf(inner ?? {}, root);
  if (!position) return new ToolError(code, message);
  return new ToolError(code, message, position, excerptAt(root, position));
}

function excerptAt(root: string, { file, line, column }: Position): string | undefined {
  const path = join(root, file);
  return line !== undefined && existsSync(path) ? excerptOf(readFileSync(path, 'utf8'), line, column ?? 1) : undefined;
}

/** The bundler's or Node's message for an unresolved import: the specifier, and the importing file. */
const saysMissing = [
  /Could not resolve '([^']+)' in (\S+)/,
  /[Ff]ailed to resolve import "([^"]+)" from "([^"]+)"/,
  /Cannot find (?:package|module) '([^']+)' imported from (\S+)/,
];

function missingImport(text: string, root: string): ToolError | undefined {
  const [, specifier, from] = saysMissing.map(pattern => pattern.exec(text)).find(found => found) ?? [];
  if (specifier === undefined) return undefined;
  const path = resolve(root, from!.replace(/^file:\/\//, '').replace(/[?#].*$/, ''));
  const file = relative(root, path).replaceAll('\\', '/');
  // A module of the tool itself.
  if (from!.startsWith('\0'))
    return new ToolError(
      'import-missing',
      `There is no package ${specifier.split('/')[0]} here. Install it: npm install ${specifier.split('/')[0]}`,
    );
  const isFile = /^(?:\.|\/|[a-zA-Z]:\\)/.test(specifier);
  // Node's message contains the resolved file.
  const written =
    isFile && isAbsolute(specifier) ? relative(dirname(path), specifier).replaceAll('\\', '/') : specifier;
  const message = isFile
    ? `It imports "${written.startsWith('.') ? written : `./${written}`}", and there is no such file. ${similarFile(path, written) ?? 'Look at the name, its ending and the folder.'}`
    : `It imports "${written}", and there is no such package here. Install it: npm install ${written
        .split('/')
        .slice(0, written.startsWith('@') ? 2 : 1)
        .join('/')}`;
  const position = { file, ...(existsSync(path) ? placeOf(readFileSync(path, 'utf8'), written) : {}) };
  return new ToolError('import-missing', message, position, excerptAt(root, position));
}

/** The bundler's or Node's message for a package without the entry that an import names. */
const saysNoEntry = [
  /"(?<entry>\.[^"]*)" is not exported under the conditions .* from package (?<folder>\S+)/,
  /Package subpath '(?<entry>[^']+)' is not defined by "exports" in (?<folder>\S+)[\\/]package\.json(?: imported from (?<from>\S+))?/,
];

function missingEntry(text: string, root: string): ToolError | undefined {
  const { entry, folder, from } = saysNoEntry.map(pattern => pattern.exec(text)?.groups).find(found => found) ?? {};
  if (!entry || !folder) return undefined;
  const { name, exports } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')) as {
    readonly name: string;
    readonly exports: Readonly<Record<string, unknown>>;
  };
  const specifier = name + entry.slice(1);
  const entries = Object.keys(exports).filter(key => /^\.(?:\/[\w-]+)*$/.test(key));
  const near = nearest(entry, entries);
  const advice = near
    ? `Did you mean "${name}${near.slice(1)}"?`
    : `It has ${entries.map(key => name + key.slice(1)).join(', ')}.`;
  // The bundler does not say which module imports it.
  const path = from ? resolve(root, from.replace(/^file:\/\//, '')) : fileWith(specifier, root);
  const message = `It imports "${specifier}", which the package ${name} does not have. ${advice}`;
  if (!path) return new ToolError('import-missing', message);
  const position = {
    file: relative(root, path).replaceAll('\\', '/'),
    ...placeOf(readFileSync(path, 'utf8'), specifier),
  };
  return new ToolError('import-missing', message, position, excerptAt(root, position));
}

/** The first module of a project that names a specifier. */
function fileWith(specifier: string, root: string): string | undefined {
  const files = globSync('**/*.{ts,js,mts,mjs,tsx,jsx}', { cwd: root, absolute: true, ignore: ['**/node_modules/**'] });
  return files.sort().find(file => placeOf(readFileSync(file, 'utf8'), specifier).line !== undefined);
}

/** A file with a similar name in the folder that an import names. */
function similarFile(importer: string, specifier: string): string | undefined {
  const path = resolve(dirname(importer), specifier.replace(/[?#].*$/, ''));
  if (!existsSync(dirname(path))) return undefined;
  const near = nearest(basename(path), readdirSync(dirname(path)));
  return near && `Did you mean "${specifier.slice(0, specifier.lastIndexOf('/') + 1) || './'}${near}"?`;
}

/** What a module exports, as far as it is written in it. */
function similarExport(file: string, name: string): string | undefined {
  if (!existsSync(file)) return undefined;
  const { module } = parseSync(file, readFileSync(file, 'utf8'));
  const names = module.staticExports.flatMap(({ entries }) =>
    entries.flatMap(({ exportName }) => exportName.name ?? []),
  );
  const near = nearest(name, names);
  if (near) return `Did you mean "${near}"?`;
  return names.length > 0 && names.length <= 12 ? `It exports ${names.sort().join(', ')}.` : undefined;
}

function missingExport(text: string, error: BundlerError, root: string): ToolError | undefined {
  const [, name, from] = /"([^"]+)" is not exported by "([^"]+)"/.exec(text) ?? [];
  const file = name && positionOf(error, root)?.file;
  if (!file || !existsSync(join(root, file))) return undefined;
  // The position refers to the compiled module; the source contains the specifier as well.
  const code = readFileSync(join(root, file), 'utf8');
  const offset = Math.max(0, code.search(identifierPattern(name)));
  const position = { file, ...positionIn(code, offset) };
  const [, library] = /[\\/](?:node_modules|packages)[\\/]((?:@[^\\/]+[\\/])?[^\\/]+)[\\/]/.exec(from!) ?? [];
  const message = `"${name}" is not exported by ${library ? `the package ${library}` : `"${from}"`}. ${similarExport(resolve(root, from!), name) ?? 'Look at the name.'}`;
  return new ToolError('import-missing', message, position, excerptAt(root, position));
}

/** The position of the first use of a specifier in a file. */
function placeOf(code: string, specifier: string): Partial<TextPosition> {
  const at = Math.max(code.indexOf(`'${specifier}'`), code.indexOf(`"${specifier}"`));
  return at < 0 ? {} : positionIn(code, at);
}

function positionOf({ loc, id, message = '', stack = '' }: BundlerError, root: string): Position | undefined {
  const inProject = (file: string) =>
    relative(root, resolve((file.startsWith('file://') ? fileURLToPath(file) : file).replace(/\?.*$/, '')));
  // A bundler prints `╭─[ src/hive-card.ts:12:5 ]`; a stack contains `file:///…/hive-card.ts:12:5`.
  const drawn = /╭─\[\s*([^\]\n]+?):(\d+):(\d+)\s*\]/.exec(withoutColours(message));
  if (drawn) return { file: inProject(drawn[1]!), line: +drawn[2]!, column: +drawn[3]! };
  // Node prints the position of a syntax error at the start of the stack.
  const [, own, at] = /^((?:file:\/\/)?\/[^\n]*?):(\d+)\n/.exec(stack) ?? [];
  if (own && !inProject(own).startsWith('..')) return { file: inProject(own), line: +at!, column: 1 };
  const file = loc?.file ?? id;
  if (file && loc) return { file: inProject(file), line: loc.line, column: loc.column + 1 };
  for (const [, file, line, column] of stack.matchAll(
    /(?<=^\s+at (?:.* \()?)((?:file:\/\/)?\/.*?):(\d+):(\d+)\)?$/gm,
  )) {
    const path = inProject(file!);
    if (path.startsWith('..') || path.includes('node_modules') || !existsSync(join(root, path))) continue;
    return { file: path, line: +line!, column: +column! };
  }
  return file ? { file: inProject(file) } : undefined;
}

function withoutColours(text: string): string {
  return text.replace(/\u001b\[[0-9;]*m/g, '');
}

function firstLine(message: string): string {
  const lines = withoutColours(message)
    .split('\n')
    .map(line => line.trim())
    .filter(Boolean);
  const cause =
    lines.find(
      line => !/^(?:\[?PARSE_ERROR\]?\s*$|Transform failed|Build failed|Error:?\s*Build failed)/i.test(line),
    ) ??
    lines[0] ??
    'unknown error';
  return cause.replace(/^\[[\w:-]+\]:?\s*(?:(?:Error|Warning):\s*)?/, '');
}
