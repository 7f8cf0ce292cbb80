/** Finds the elements of a project by loading its modules: no DOM is needed for that. */
import { once } from 'node:events';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { contractKey } from '../../../eltrix/src/element/contract-key.ts';
import type { Contract } from '../../../eltrix/src/element/plan.ts';
import { candidates } from './candidates.ts';
import { temporaryFolder } from './held.ts';
import { readContracts } from './read-contract.ts';
import { Remembered } from './remembered.ts';
import { textOf } from './seen.ts';
import { sourceError } from './source-error.ts';
import { ToolError } from './tool-error.ts';

/** An element class that a project exports. */
export interface FoundElement {
  readonly tag: string;
  /** The file, from the project's folder, with forward slashes. */
  readonly file: string;
  /** The name it is exported by. */
  readonly exportName: string;
  readonly contract: Contract;
}

type ElementClass = { readonly prototype: object; readonly name: string } & Record<symbol, Contract>;

/** A declaration that cannot work is reported each time, since the promise is kept as it is. */
const readBefore = new Remembered<ReturnType<typeof readContracts>>();

/**
 * Every exported class made by `contract()` in the source folder, by tag.
 * @param onLoad called when modules have to be loaded to know them.
 * @throws ToolError for a source that does not parse or load, and for two elements of one tag.
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
    // A class that only inherits its contract has the tag of its base: which is made from which is seen when both are loaded.
    const bases = filesOfSameTag(found.values(), loaded);
    if (bases.size > 0) {
      loaded = await loadOrReport(root, [...unread, ...bases]);
      for (const [key, { file }] of found) if (bases.has(file)) found.delete(key);
    }
    for (const [file, exports] of loaded) {
      const text = textOf(join(root, file));
      for (const [exportName, Class] of elementClasses(exports)) {
        const isHome = new RegExp(`\\b(?:class|const|let|var)\\s+${exportName}\\b`).test(text);
        if (!isHome && (found.has(Class) || isReadElsewhere(found.values(), exportName, Class[contractKey]!))) continue;
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

/** The files of elements that were read, and that have the tag of a class of another file that was loaded. */
function filesOfSameTag(read: Iterable<FoundElement>, loaded: readonly [string, Exports][]): Set<string> {
  const tags = new Map(
    loaded.flatMap(([, exports]) =>
      elementClasses(exports).map(([name, Class]): [string, string] => [Class[contractKey]!.tag, name]),
    ),
  );
  const files = [...read].filter(({ tag, exportName }) => tags.has(tag) && tags.get(tag) !== exportName);
  return new Set(files.map(({ file }) => file));
}

/** A module that exports on what another has: the other's own source was read already. */
function isReadElsewhere(found: Iterable<FoundElement>, exportName: string, { tag, surface }: Contract): boolean {
  return [...found].some(
    element => element.tag === tag && element.exportName === exportName && element.contract.surface === surface,
  );
}

/** The elements that a module states explicitly; undefined if it has to be loaded to know them. */
export function contractsIn(root: string, file: string): ReturnType<typeof readContracts> {
  const path = join(root, file);
  const text = textOf(path);
  return readBefore.get(path, text, () => readContracts(file, path, text));
}

/** Where an element stands. */
export type ElementPlace = Pick<FoundElement, 'tag' | 'file' | 'exportName'>;

/** What `discover` will probably find, from a look at the text: enough to begin bundling meanwhile. */
export function likelyElements(root: string, source: string): ElementPlace[] {
  const places: ElementPlace[] = [];
  for (const file of candidates(root, source)) {
    const text = textOf(join(root, file));
    for (const [, name, tag] of text.matchAll(/^export class (\w+) extends contract\(\s*['"]([^'"]+)['"]/gm))
      places.push({ tag: tag!, file, exportName: name! });
  }
  return places.sort((a, b) => (a.tag < b.tag ? -1 : 1));
}

/** A base class that is exported beside the element made from it has the same tag: the derived one is meant. */
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

/** A name that a page has and Node lacks: the error says that Node reads contracts. */
function withReason(error: ToolError): ToolError {
  const [, name] = /^(\w+) is not defined$/.exec(error.message) ?? [];
  if (!name) return error;
  const message =
    `${error.message} in Node, where this module was loaded because a contract in it is not written out. ` +
    `Write the contract's values out in its source, or use ${name} where a page runs it: in connected() or view().`;
  return new ToolError(error.code, message, error.position, error.excerpt, error.exitCode);
}

type Exports = Readonly<Record<string, unknown>>;

/** How long modules may take to load, in milliseconds. */
const patience = 10_000;

/** Whether a module has run to its end, or failed, in time: one that loops would never give this thread back. */
async function settles(address: URL): Promise<boolean> {
  const code = `import(${JSON.stringify(address.href)}).catch(() => {}).finally(() => require('node:worker_threads').parentPort.postMessage('done'));`;
  const worker = new Worker(code, { eval: true, stdout: true, stderr: true });
  const late = new AbortController();
  const settled = await Promise.race([
    once(worker, 'message').then(() => true),
    // It has nothing to do any more, and has not said that it is done.
    once(worker, 'exit').then(() => false),
    sleep(patience, false, { signal: late.signal }).catch(() => false),
  ]).catch(() => true);
  late.abort();
  await worker.terminate();
  return settled;
}

/** The error for modules of which one does not load to its end. */
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

/** Source maps cost time, so they are made only to say where something is wrong. */
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
  // It takes long to load, and is seldom needed.
  const { build } = await import('vite');
  const { bundlerConfig } = await import('./bundler.ts');
  const { refuseUnknownSyntax } = await import('./engine-syntax.ts');
  const { sheetModules } = await import('./sheet-modules.ts');
  const { readableModules } = await import('./readable-modules.ts');
  try {
    await build(
      await bundlerConfig(root, {
        // Everything goes into one module, the library with its messages in full.
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
    // Each thread has its own setting.
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
