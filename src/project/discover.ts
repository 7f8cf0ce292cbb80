/** Finds the elements of a project by loading its modules: no DOM is needed for that. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { glob } from 'tinyglobby';
import { build } from 'vite';
import { type Contract, contractKey } from '../element/plan.ts';
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

/**
 * Every exported class made by `contract()` in the source folder, by tag.
 * @throws ToolError for a source that does not parse or load, and for two elements of one tag.
 */
export async function discover(root: string, source: string): Promise<FoundElement[]> {
  const files = (
    await glob([`${source}/**/*.{ts,js,mts,mjs}`], {
      cwd: root,
      ignore: ['**/*.test.*', '**/*.d.ts', '**/node_modules/**'],
    })
  ).sort();
  const candidates = files.filter(file => /\bcontract\b/.test(readFileSync(join(root, file), 'utf8')));
  if (candidates.length === 0) return [];
  const found = new Map<ElementClass, FoundElement>();
  for (const [file, exports] of await load(root, candidates)) {
    const text = readFileSync(join(root, file), 'utf8');
    for (const [exportName, value] of Object.entries(exports)) {
      if (typeof value !== 'function' || !(contractKey in value)) continue;
      const Class = value as unknown as ElementClass;
      const isHome = new RegExp(`\\b(?:class|const|let|var)\\s+${exportName}\\b`).test(text);
      if (found.has(Class) && !isHome) continue;
      const contract = Class[contractKey]!;
      found.set(Class, { tag: contract.tag, file, exportName, contract });
    }
  }
  return distinct(found);
}

/** A base class that is exported beside the element made from it has the same tag: the derived one is meant. */
function distinct(found: ReadonlyMap<ElementClass, FoundElement>): FoundElement[] {
  const byTag = new Map<string, ElementClass>();
  for (const [Class, element] of found) {
    const other = byTag.get(element.tag);
    if (other === undefined || other.prototype.isPrototypeOf(Class.prototype)) byTag.set(element.tag, Class);
    else if (!Class.prototype.isPrototypeOf(other.prototype)) {
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

type Exports = Readonly<Record<string, unknown>>;

async function load(root: string, files: readonly string[]): Promise<[string, Exports][]> {
  const entry = 'virtual:eltrix-discover';
  const code = [
    ...files.map((file, i) => `import * as m${i} from ${JSON.stringify(join(root, file))};`),
    `export default [${files.map((file, i) => `[${JSON.stringify(file)}, m${i}]`).join(', ')}];`,
  ].join('\n');
  const outDir = mkdtempSync(join(tmpdir(), 'eltrix-discover-'));
  try {
    await build({
      root,
      configFile: false,
      logLevel: 'silent',
      publicDir: false,
      // Everything goes into one module, the library with its messages in full.
      ssr: { noExternal: true, resolve: { conditions: ['development', 'module'] } },
      build: {
        ssr: true,
        outDir,
        minify: false,
        sourcemap: 'inline',
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
      ],
    });
    const module = (await import(pathToFileURL(join(outDir, 'elements.mjs')).href)) as { default: [string, Exports][] };
    return module.default;
  } catch (error) {
    throw sourceError(error, root);
  } finally {
    rmSync(outDir, { recursive: true, force: true });
  }
}
