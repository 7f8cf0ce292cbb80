/** Turns elements into dependency-free ES modules. */
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { brotliCompressSync, constants } from 'node:zlib';
import { parseAst, build as viteBuild } from 'vite';
import type { FoundElement } from '../project/discover.ts';
import { sourceError } from '../project/source-error.ts';
import { ToolError } from '../project/tool-error.ts';

export interface BuiltFile {
  readonly file: string;
  /** Bytes as they are, and as brotli packs them. */
  readonly raw: number;
  readonly brotli: number;
  /** What it is: an element's module, all of them, or a part that some share. */
  readonly role: 'element' | 'all' | 'shared';
}

/** The file that marks a folder as this tool's. */
const marker = 'sizes.json';

/**
 * Builds into a folder beside the output and swaps that in when all is well; until then the old output stays.
 * @throws ToolError for a source error, a bare import that is left over, and a folder that holds other things.
 */
export async function buildElements(
  root: string,
  elements: readonly FoundElement[],
  out: string,
): Promise<BuiltFile[]> {
  const target = join(root, out);
  refuseForeignFolder(target, out);
  mkdirSync(dirname(target), { recursive: true });
  const beside = mkdtempSync(join(dirname(target), `.${basename(target)}-`));
  try {
    await bundle(root, elements, beside);
    refuseBareImports(beside);
    writeFileSync(join(beside, 'all.js'), elements.map(({ tag }) => `export * from "./${tag}.js";\n`).join(''));
    const files = measure(beside, elements);
    const sizes = Object.fromEntries(files.map(({ file, raw, brotli }) => [file, { raw, brotli }]));
    writeFileSync(join(beside, marker), `${JSON.stringify(sizes, null, 2)}\n`);
    swap(beside, target);
    return files;
  } catch (error) {
    throw sourceError(error, root);
  } finally {
    rmSync(beside, { recursive: true, force: true });
  }
}

/** The output folder is exchanged whole, so it must not hold anything else. */
function refuseForeignFolder(target: string, out: string): void {
  if (!existsSync(target) || existsSync(join(target, marker)) || readdirSync(target).length === 0) return;
  throw new ToolError(
    'out-in-use',
    `The output folder "${out}" holds files that eltrix build did not write, and it is exchanged whole. ` +
      'Name another folder, for example --out widgets, or empty this one. Nothing was written.',
    undefined,
    undefined,
    2,
  );
}

async function bundle(root: string, elements: readonly FoundElement[], outDir: string): Promise<void> {
  const prefix = 'virtual:eltrix/';
  const modules = new Map<string, string>();
  for (const { tag, file, exportName } of elements) {
    const from = JSON.stringify(join(root, file));
    const name = exportName === 'default' ? className(tag) : exportName;
    modules.set(tag, `import { ${exportName} as ${name} } from ${from};\n${name}.define();\nexport { ${name} };\n`);
  }
  await viteBuild({
    root,
    configFile: false,
    logLevel: 'silent',
    publicDir: false,
    resolve: { conditions: ['production', 'browser', 'module'] },
    plugins: [
      {
        name: 'eltrix-entries',
        resolveId: id => (id.startsWith(prefix) ? `\0${id}` : undefined),
        load: id => (id.startsWith(`\0${prefix}`) ? modules.get(id.slice(prefix.length + 1)) : undefined),
      },
    ],
    build: {
      outDir,
      emptyOutDir: false,
      target: 'es2022',
      minify: 'oxc',
      modulePreload: false,
      rolldownOptions: {
        input: Object.fromEntries([...modules.keys()].map(name => [name, prefix + name])),
        preserveEntrySignatures: 'exports-only',
        output: {
          format: 'esm',
          entryFileNames: '[name].js',
          chunkFileNames: 'shared-[hash].js',
          assetFileNames: '[name]-[hash][extname]',
        },
      },
    },
  });
}

function className(tag: string): string {
  return tag.replace(/(?:^|-)([a-z0-9])/g, (_, letter: string) => letter.toUpperCase()).replace(/[^A-Za-z0-9]/g, '');
}

/** @throws ToolError if an output imports anything but its neighbours. */
function refuseBareImports(folder: string): void {
  for (const file of readdirSync(folder).filter(name => name.endsWith('.js'))) {
    const { body } = parseAst(readFileSync(join(folder, file), 'utf8'));
    for (const node of body) {
      if (!('source' in node) || !node.source || node.source.value.startsWith('./')) continue;
      throw new ToolError(
        'bare-import',
        `${file} would still import "${node.source.value}", which no page can resolve. Install it, so that it can be bundled, or take the import out.`,
      );
    }
  }
}

function measure(folder: string, elements: readonly FoundElement[]): BuiltFile[] {
  const tags = new Set(elements.map(element => `${element.tag}.js`));
  const order = { element: 0, all: 1, shared: 2 };
  return readdirSync(folder)
    .filter(file => file.endsWith('.js'))
    .map(file => {
      const bytes = readFileSync(join(folder, file));
      const packed = brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } });
      const role = tags.has(file) ? 'element' : file === 'all.js' ? 'all' : 'shared';
      return { file, raw: bytes.length, brotli: packed.length, role } as const;
    })
    .sort((a, b) => order[a.role] - order[b.role] || (a.file < b.file ? -1 : 1));
}

function swap(fresh: string, target: string): void {
  const old = `${target}.old-${process.pid}`;
  const had = existsSync(target);
  if (had) renameSync(target, old);
  renameSync(fresh, target);
  if (had) rmSync(old, { recursive: true, force: true });
}
