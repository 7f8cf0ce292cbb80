/** Finds the elements of a project by loading its modules, without a DOM. */
import { once } from 'node:events';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { contractKey } from '../../../eltrix/src/element/contract-key.ts';
import type { Contract } from '../../../eltrix/src/element/plan.ts';
import { candidates } from './candidates.ts';
import { exportsOf, importsOf } from './exports.ts';
import { temporaryFolder } from './held.ts';
import { readContracts } from './read-contract.ts';
import { Remembered } from './remembered.ts';
import { textOf } from './seen.ts';
import { sourceError } from './source-error.ts';
import { parseModule } from './syntax.ts';
import { ToolError } from './tool-error.ts';

/** An element class that a project exports. */
export interface FoundElement {
  readonly tag: string;
  /** The file, relative to the project's folder, with forward slashes. */
  readonly file: string;
  /** The name of the export. */
  readonly exportName: string;
  readonly contract: Contract;
}

type ElementClass = { readonly prototype: object; readonly name: string } & Record<symbol, Contract>;

/** The promise is kept, so a mistake in a declaration is reported each time. */
const readBefore = new Remembered<ReturnType<typeof readContracts>>();

/**
 * Finds every exported class made by `contract()` in the source folder, by tag.
 * @param onLoad called when modules have to be loaded.
 * @throws ToolError for a source that does not parse or load, and for two elements with the same tag.
 */
export async function discover(root: string, source: string, onLoad?: () => void): Promise<FoundElement[]> {
  const found = new Map<object, FoundElement>();
  const unread: string[] = [];
  for (const file of candidates(root, source)) {
    const read = await contractsIn(root, file);
    if (!read) unread.push(file);
    for (const { exportName, contract } of read ?? []) found.set({}, { tag: contract.tag, file, exportName, contract });
  }
  if (unread.length > 0) {
    onLoad?.();
    let loaded = await loadOrReport(root, unread);
    // A class that inherits its contract has the tag of its base class. Loading both shows which class extends the
    // other.
    const bases = filesOfSameTag(found.values(), loaded);
    if (bases.size > 0) {
      loaded = await loadOrReport(root, [...unread, ...bases]);
      for (const [key, { file }] of found) if (bases.has(file)) found.delete(key);
    }
    for (const [file, exports] of loaded) {
      const text = textOf(join(root, file));
      for (const [exportName, Class] of elementClasses(exports)) {
        if (
          !isMadeHere(file, text, exportName) &&
          (found.has(Class) || isReadElsewhere(found.values(), exportName, Class[contractKey]!))
        )
          continue;
        const contract = Class[contractKey]!;
        found.set(Class, { tag: contract.tag, file, exportName, contract });
      }
    }
  }
  return distinct(found);
}

function elementClasses(exports: Exports): [name: string, Class: ElementClass][] {
  return Object.entries(exports).filter(
    (entry): entry is [string, ElementClass & object] => typeof entry[1] === 'function' && contractKey in entry[1],
  );
}

/**
 * The files of elements whose contracts were read without loading, and whose tag a loaded class of another file has as
 * well.
 */
function filesOfSameTag(read: Iterable<FoundElement>, loaded: readonly [string, Exports][]): Set<string> {
  const tags = new Map(
    loaded.flatMap(([, exports]) =>
      elementClasses(exports).map(([name, Class]): [string, string] => [Class[contractKey]!.tag, name]),
    ),
  );
  const files = [...read].filter(({ tag, exportName }) => tags.has(tag) && tags.get(tag) !== exportName);
  return new Set(files.map(({ file }) => file));
}

/** Whether a module does not only pass on what another one has made. */
function isMadeHere(file: string, text: string, exportName: string): boolean {
  const program = parseModule(file, text)?.program;
  if (!program) return false;
  const imports = importsOf(program);
  return exportsOf(program, exportName).some(
    one => 'node' in one && !(one.node.type === 'Identifier' && imports.has(one.node['name'])),
  );
}

/** For a module that re-exports another module, whose own source was read already. */
function isReadElsewhere(found: Iterable<FoundElement>, exportName: string, { tag, surface }: Contract): boolean {
  return [...found].some(
    element => element.tag === tag && element.exportName === exportName && element.contract.surface === surface,
  );
}

/** The elements whose contracts can be read from the source; undefined if the module has to be loaded. */
export function contractsIn(root: string, file: string): ReturnType<typeof readContracts> {
  const path = join(root, file);
  const text = textOf(path);
  return readBefore.get(path, text, () => readContracts(file, path, text));
}

/** The position of an element. */
export type ElementPlace = Pick<FoundElement, 'tag' | 'file' | 'exportName'>;

/** The probable result of `discover`, from the text of the sources: enough to start bundling early. */
export function likelyElements(root: string, source: string): ElementPlace[] {
  const places: ElementPlace[] = [];
  for (const file of candidates(root, source)) {
    const text = textOf(join(root, file));
    for (const [, name, tag] of text.matchAll(/^export class (\w+) extends contract\(\s*['"]([^'"]+)['"]/gm))
      places.push({ tag: tag!, file, exportName: name! });
  }
  return places.sort((a, b) => (a.tag < b.tag ? -1 : 1));
}

/** A base class with the same tag, exported beside its subclass, is dropped. */
function distinct(found: ReadonlyMap<object, FoundElement>): FoundElement[] {
  const byTag = new Map<string, object>();
  const above = (a: object, b: object) => {
    const [base, derived] = [a, b] as ElementClass[];
    return (
      base!.prototype !== undefined &&
      derived!.prototype !== undefined &&
      Object.prototype.isPrototypeOf.call(base!.prototype, derived!.prototype)
    );
  };
  for (const [Class, element] of found) {
    const other = byTag.get(element.tag);
    if (other === undefined || above(other, Class)) byTag.set(element.tag, Class);
    else if (!above(Class, other)) {
      const first = found.get(other)!;
      throw new ToolError(
        'tag-taken',
        `<${element.tag}> is made twice: ${first.exportName} in ${first.file} and ${element.exportName} in ${element.file}. Give one of them another tag.`,
        { file: element.file },
      );
    }
  }
  return [...byTag.values()].map(Class => found.get(Class)!).sort((a, b) => (a.tag < b.tag ? -1 : 1));
}

/** A global that only pages have: the error explains that Node loads contracts. */
function withReason(error: ToolError): ToolError {
  const [, name] = /^(\w+) is not defined$/.exec(error.message) ?? [];
  if (!name) return error;
  const message =
    `${error.message} in Node, where this module was loaded because a contract in it is not written out. ` +
    `Write the contract's values out in its source, or use ${name} where a page runs it: in connected() or view().`;
  return new ToolError(error.code, message, error.position, error.excerpt, error.exitCode);
}

type Exports = Readonly<Record<string, unknown>>;

/** The time limit for loading modules, in milliseconds. */
const patience = 10_000;

/** Whether a module has loaded, or failed, in time. A module with an endless loop would block this thread for ever. */
async function settles(address: URL): Promise<boolean> {
  const code = `import(${JSON.stringify(address.href)}).catch(() => {}).finally(() => require('node:worker_threads').parentPort.postMessage('done'));`;
  const worker = new Worker(code, { eval: true, stdout: true, stderr: true });
  const late = new AbortController();
  const settled = await Promise.race([
    once(worker, 'message').then(() => true),
    // The process has nothing to do, but the module has not finished loading.
    once(worker, 'exit').then(() => false),
    sleep(patience, false, { signal: late.signal }).catch(() => false),
  ]).catch(() => true);
  late.abort();
  await worker.terminate();
  return settled;
}

/** The error for modules of which one does not finish loading. */
async function hanging(root: string, files: readonly string[]): Promise<ToolError> {
  let file = files[0]!;
  if (files.length > 1)
    for (const one of files) {
      const hangs = await load(root, [one], false).then(
        () => false,
        error => (error as ToolError).code === 'load-hangs',
      );
      if (!hangs) continue;
      file = one;
      break;
    }
  return new ToolError(
    'load-hangs',
    `${file} was loaded because a contract in it is not written out, and its top level has not come to its end within ${patience / 1000} s. ` +
      'Look for a loop, or for an await whose promise never settles.',
    { file },
  );
}

/** Source maps take time, so they are created only for error positions. */
async function loadOrReport(root: string, files: readonly string[]): Promise<[string, Exports][]> {
  try {
    return await load(root, files, false);
  } catch (error) {
    if ((error as Partial<ToolError>).code === 'load-hangs') throw error;
    return await load(root, files, true);
  }
}

async function load(root: string, files: readonly string[], maps: boolean): Promise<[string, Exports][]> {
  const entry = 'virtual:eltrix-discover';
  const code = [
    ...files.map((file, i) => `import * as m${i} from ${JSON.stringify(join(root, file))};`),
    `export default [${files.map((file, i) => `[${JSON.stringify(file)}, m${i}]`).join(', ')}];`,
  ].join('\n');
  const { folder: outDir, remove } = temporaryFolder('discover');
  // Imported here, since it loads slowly and is seldom needed.
  const { build } = await import('vite');
  const { bundlerConfig } = await import('./bundler.ts');
  const { refuseUnknownSyntax } = await import('./engine-syntax.ts');
  const { sheetModules } = await import('./sheet-modules.ts');
  const { readableModules } = await import('./readable-modules.ts');
  try {
    await build(
      await bundlerConfig(root, {
        // One bundle, with the library's development messages.
        ssr: { noExternal: true, resolve: { conditions: ['development', 'module'] } },
        build: {
          ssr: true,
          outDir,
          minify: false,
          sourcemap: maps && 'inline',
          target: 'node20',
          rolldownOptions: {
            input: entry,
            output: { entryFileNames: 'elements.mjs', chunkFileNames: '[name]-[hash].mjs' },
          },
        },
        plugins: [
          {
            name: 'eltrix-discover',
            resolveId: id => (id === entry ? `\0${entry}` : undefined),
            load: id => (id === `\0${entry}` ? code : undefined),
          },
          readableModules(root),
          sheetModules(),
          refuseUnknownSyntax(root),
        ],
      }),
    );
    // The setting is separate for each thread.
    if (maps) process.setSourceMapsEnabled(true);
    const address = pathToFileURL(join(outDir, 'elements.mjs'));
    if (!(await settles(address))) throw await hanging(root, files);
    const module = (await import(address.href)) as { default: [string, Exports][] };
    return module.default;
  } catch (error) {
    throw maps ? withReason(sourceError(error, root)) : error;
  } finally {
    remove();
  }
}
