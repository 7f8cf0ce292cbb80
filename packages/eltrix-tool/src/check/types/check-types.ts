/**
 * Checks types in markup. TypeScript does not know the types of expressions in a template. So each source with markup
 * is written to a copy of the project in which the expressions are arguments of functions, and the project's own
 * TypeScript checks the copy.
 */

import { randomBytes } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { glob } from 'tinyglobby';
import type { FoundElement } from '../../project/discover.ts';
import { byPlace, type Finding } from '../../project/finding.ts';
import { hold } from '../../project/held.ts';
import { importedBy } from '../../project/passed-names.ts';
import { ToolError } from '../../project/tool-error.ts';
import { runTypeScript, type TypeScript, typeScriptOf } from '../../project/typescript.ts';
import type { Vocabulary } from '../pages/vocabulary.ts';
import { markupDeclarations } from './declarations.ts';
import { type TypedSource, typedSource } from './typed-source.ts';

export interface TypeCheck {
  readonly findings: readonly Finding[];
  /** The number of sources with expressions in markup. */
  readonly sources: number;
}

/** @throws ToolError without TypeScript or a tsconfig.json. */
export async function checkTypes(
  root: string,
  out: string,
  elements: readonly FoundElement[],
  vocabulary: Vocabulary,
): Promise<TypeCheck> {
  const compiler = compilerOf(root);
  const { compilerOptions, files } = await configurationOf(root, compiler);
  const typed = new Map<string, TypedSource>();
  for (const file of files) {
    const source =
      /\.[mc]?tsx?$/.test(file) &&
      !/\.d\.[mc]?ts$/.test(file) &&
      typedSource(file, read(root, file), importedBy(join(root, file)));
    if (source) typed.set(file, source);
  }
  if (typed.size === 0) return { findings: [], sources: 0 };
  // Inside the project, so that packages are resolved.
  const copy = join(root, `.eltrix-types-${randomBytes(6).toString('hex')}`);
  const remove = hold({ folder: copy });
  try {
    mkdirSync(copy);
    await copySources(root, out, copy);
    for (const [file, { code }] of typed) {
      mkdirSync(dirname(join(copy, file)), { recursive: true });
      writeFileSync(join(copy, file), code);
    }
    writeFileSync(join(copy, declarationsFile), markupDeclarations(elements, vocabulary));
    const configuration = {
      compilerOptions: {
        ...rebased(root, compilerOptions),
        noEmit: true,
        noUnusedLocals: false,
        noUnusedParameters: false,
      },
      files: [...files.map(file => (isInside(file) ? file : resolve(root, file))), declarationsFile],
    };
    writeFileSync(join(copy, 'tsconfig.json'), JSON.stringify(configuration));
    const output = await runTypeScript(compiler, copy, ['-p', 'tsconfig.json', '--pretty', 'false']);
    return { findings: findingsOf(output, typed).sort(byPlace), sources: typed.size };
  } finally {
    remove();
  }
}

const declarationsFile = 'eltrix-markup.d.ts';
const isInside = (file: string) => !isAbsolute(file) && !file.startsWith('..');
const read = (root: string, file: string) => readFileSync(join(root, file), 'utf8');

function compilerOf(root: string): TypeScript {
  const compiler = typeScriptOf(root);
  if (compiler) return compiler;
  throw new ToolError(
    'typescript-missing',
    'Types in markup are checked by the TypeScript of the project, and there is none. Type npm install --save-dev typescript.',
    undefined,
    undefined,
    2,
  );
}

interface Configuration {
  readonly compilerOptions: Readonly<Record<string, unknown>>;
  /** Relative to the root, with forward slashes. */
  readonly files: readonly string[];
}

async function configurationOf(root: string, compiler: TypeScript): Promise<Configuration> {
  if (!existsSync(join(root, 'tsconfig.json')))
    throw new ToolError(
      'tsconfig-missing',
      "Types in markup are checked with the project's tsconfig.json, and there is none. Type npx tsc --init, or go to the folder that has one.",
      undefined,
      undefined,
      2,
    );
  const shown = await runTypeScript(compiler, root, ['--showConfig', '-p', 'tsconfig.json']);
  let configuration: Partial<Configuration>;
  try {
    configuration = JSON.parse(shown) as Partial<Configuration>;
  } catch {
    throw new ToolError(
      'tsconfig-invalid',
      `TypeScript does not read tsconfig.json: ${shown.trim()}`,
      undefined,
      undefined,
      2,
    );
  }
  return {
    compilerOptions: configuration.compilerOptions ?? {},
    files: (configuration.files ?? []).map(file => relative(root, resolve(root, file)).split(sep).join('/')),
  };
}

/** Files that modules may import: the copy has them at the same relative paths. */
async function copySources(root: string, out: string, copy: string): Promise<void> {
  const files = await glob('**/*.{ts,tsx,mts,cts,js,jsx,mjs,cjs,json,css}', {
    cwd: root,
    ignore: ['**/node_modules/**', `${out}/**`, '**/coverage/**'],
    expandDirectories: false,
  });
  for (const file of files) cpSync(join(root, file), join(copy, file));
}

/** Options with paths outside the project, relative to the copy. */
function rebased(root: string, options: Readonly<Record<string, unknown>>): Record<string, unknown> {
  const place = (path: unknown): unknown =>
    typeof path === 'string' && path.startsWith('..') ? resolve(root, path) : path;
  const all = (paths: unknown) => (Array.isArray(paths) ? paths.map(place) : paths);
  const { paths, rootDirs, typeRoots, baseUrl, rootDir, outDir: _, ...rest } = options;
  return {
    ...rest,
    ...(baseUrl === undefined ? {} : { baseUrl: place(baseUrl) }),
    ...(rootDir === undefined ? {} : { rootDir: place(rootDir) }),
    ...(rootDirs === undefined ? {} : { rootDirs: all(rootDirs) }),
    ...(typeRoots === undefined ? {} : { typeRoots: (typeRoots as string[]).map(path => resolve(root, path)) }),
    ...(paths === undefined
      ? {}
      : { paths: Object.fromEntries(Object.entries(paths as object).map(([name, list]) => [name, all(list)])) }),
  };
}

/** `src/a.ts(3,14): error TS2322: Type …`, with indented lines that continue it. */
function findingsOf(output: string, typed: ReadonlyMap<string, TypedSource>): Finding[] {
  const findings: Finding[] = [];
  let last: { message: string } | undefined;
  for (const line of output.split(/\r?\n/)) {
    const [, file, at, column, message] = /^(.+?)\((\d+),(\d+)\): error (TS\d+: .*)$/.exec(line) ?? [];
    if (file === undefined) {
      if (last && /^\s+\S/.test(line)) last.message += ` ${line.trim()}`;
      continue;
    }
    const source = file.replaceAll('\\', '/');
    const place = typed.get(source)?.placeOf(Number(at), Number(column));
    last = undefined;
    if (!place) continue;
    const finding = { code: 'markup-type', message: message!, file: source, ...place };
    findings.push(finding);
    last = finding;
  }
  return findings;
}
