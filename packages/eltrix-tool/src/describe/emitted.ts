/**
 * Declarations that the project's TypeScript emits. They contain the types that a source leaves to inference, as its
 * author sees them in the editor.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join, parse, resolve } from 'node:path';
import { glob } from 'tinyglobby';
import { temporaryFolder } from '../project/held.ts';
import { textOf } from '../project/seen.ts';
import { runTypeScript, type TypeScript, typeScriptOf } from '../project/typescript.ts';

export interface Emitted {
  /** By the absolute path of a source without its extension. */
  readonly declarations: ReadonlyMap<string, string>;
  /** Aliases of modules (`paths` in the configuration), with absolute targets. */
  readonly paths: Readonly<Record<string, readonly string[]>>;
}

/** Without TypeScript. */
export const nothing: Emitted = { declarations: new Map(), paths: {} };

/**
 * @param files of elements, relative to the root.
 * @returns nothing for a project without TypeScript; sources outside its configuration are missing.
 */
export async function emitDeclarations(root: string, files: readonly string[]): Promise<Emitted> {
  const compiler = typeScriptOf(root);
  if (!compiler) return nothing;
  const { folder, remove } = temporaryFolder('types');
  try {
    const configuration = ['tsconfig.json', 'jsconfig.json'].find(name => existsSync(join(root, name)));
    const input = configuration ? ['-p', configuration] : [...defaults, ...files];
    const [paths] = await Promise.all([
      configuration ? pathsOf(compiler, root, configuration) : {},
      runTypeScript(compiler, root, [...input, ...options(compiler, root, folder, files)], patience),
    ]);
    return { declarations: await emittedBelow(root, folder), paths };
  } catch {
    // Types that cannot be inferred are unknown, as without TypeScript.
    return nothing;
  } finally {
    remove();
  }
}

/** The time limit of TypeScript, in milliseconds. */
const patience = 60_000;

/** For projects in JavaScript. */
const defaults = ['--target', 'esnext', '--module', 'esnext', '--moduleResolution', 'bundler'];

/** Options that are null are reset to their defaults, since some contradict those that are set. */
function options({ major, minor }: TypeScript, root: string, folder: string, files: readonly string[]): string[] {
  const since = (version: number) => major * 100 + minor >= version;
  const set: Readonly<Record<string, string>> = {
    noEmit: 'false',
    emitDeclarationOnly: 'true',
    declaration: 'true',
    declarationMap: 'false',
    removeComments: 'false',
    noEmitOnError: 'false',
    composite: 'false',
    incremental: 'false',
    tsBuildInfoFile: 'null',
    outFile: 'null',
    skipLibCheck: 'true',
    // Sources may be outside the project.
    rootDir: parse(root).root,
    outDir: folder,
    declarationDir: folder,
    pretty: 'false',
    // An editor reads JSDoc in JavaScript also where the configuration leaves it out.
    ...(files.some(file => /\.[cm]?jsx?$/.test(file)) ? { allowJs: 'true' } : {}),
    ...(since(505) ? { isolatedDeclarations: 'false' } : {}),
    ...(since(506) ? { noCheck: 'true' } : {}),
  };
  return Object.entries(set).flatMap(([name, value]) => [`--${name}`, value]);
}

async function emittedBelow(root: string, folder: string): Promise<Map<string, string>> {
  const files = await glob('**/*.d.{ts,mts,cts}', { cwd: folder, dot: true, expandDirectories: false });
  return new Map(
    files.map(file => [withoutExtension(join(parse(root).root, file)), readFileSync(join(folder, file), 'utf8')]),
  );
}

async function pathsOf(compiler: TypeScript, root: string, configuration: string): Promise<Emitted['paths']> {
  try {
    const { compilerOptions = {} } = JSON.parse(
      await runTypeScript(compiler, root, ['--showConfig', '-p', configuration]),
    ) as { compilerOptions?: { baseUrl?: string; paths?: Record<string, string[]> } };
    const { baseUrl = '.', paths = {} } = compilerOptions;
    return Object.fromEntries(
      Object.entries(paths).map(([name, targets]) => [name, targets.map(target => resolve(root, baseUrl, target))]),
    );
  } catch {
    // An invalid configuration emits nothing either.
    return {};
  }
}

const withoutExtension = (file: string) => file.replace(/(?:\.d)?\.[cm]?[jt]sx?$/, '');

/** Emitted declarations, as long as their sources stay as they were. */
export class EmittedTexts {
  /** The sources when they were used first, which is right after the declarations were emitted. */
  readonly #sources = new Map<string, string>();

  constructor(readonly emitted: Emitted) {}

  /** @returns undefined for a source that has changed since, or was not emitted. */
  of(file: string): string | undefined {
    const declarations = this.emitted.declarations.get(withoutExtension(file));
    if (declarations === undefined) return undefined;
    const source = textOf(file);
    if (!this.#sources.has(file)) this.#sources.set(file, source);
    return this.#sources.get(file) === source ? declarations : undefined;
  }

  /** The places where an alias of a module may lead to. */
  targetsOf(specifier: string): string[] {
    return Object.entries(this.emitted.paths).flatMap(([alias, targets]) => {
      const [before, after] = alias.split('*') as [string, string?];
      if (after === undefined) return alias === specifier ? targets : [];
      if (!specifier.startsWith(before) || !specifier.endsWith(after)) return [];
      const middle = specifier.slice(before.length, specifier.length - after.length);
      return targets.map(target => target.replace('*', () => middle));
    });
  }
}
