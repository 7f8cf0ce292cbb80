import { join } from 'node:path';
import { createBuilder, type InlineConfig, type Plugin, type ViteBuilder } from 'vite';
import { bundlerConfig, bundlerVersion } from '../project/bundler.ts';
import type { ElementPlace } from '../project/discover.ts';
import { refuseUnknownSyntax } from '../project/engine-syntax.ts';
import { readableModules } from '../project/readable-modules.ts';
import { sourceError } from '../project/source-error.ts';
import { ToolError } from '../project/tool-error.ts';
import type { Bundle, Bundled } from './bundled.ts';
import type { CompiledModule, Uncompiled } from './compiled-module.ts';
import { ownAddress, scriptUrl } from './own-address.ts';
import { eltrix } from './plugin.ts';
import { type MakeApart, Rechunker } from './rechunk.ts';
import { refuseNode, refusePlainCss } from './refusals.ts';
import { serverBundle } from './server-bundle.ts';
import { type CodeSplitting, emptyGroups, type LeanGroups, leanChunks, sharedFiles } from './shared-files.ts';

export interface BundleOptions {
  readonly target: string;
  /** Whether to write a classic script as well. */
  readonly classic: boolean;
  readonly sourcemap: boolean;
  /** Whether elements adopt views that a server has rendered. */
  readonly render?: boolean | string;
  /** Compiles modules; in this thread unless given. */
  readonly compile?: (file: string, code: string) => Promise<CompiledModule | null>;
  /** What the compilation of a module depends on, besides its code. */
  readonly context?: string;
  /** Whether further bundles will follow, so that intermediate results are kept. */
  readonly watch?: boolean;
  /** The files that changed since the last bundle; undefined if files were added or removed. */
  readonly changed?: ReadonlySet<string> | undefined;
}

export const entryPrefix = 'virtual:eltrix/';

/** @throws ToolError for an import that no page can resolve. */
export async function bundleElements(
  root: string,
  elements: readonly ElementPlace[],
  className: (element: ElementPlace) => string,
  options: BundleOptions,
): Promise<Bundle> {
  const uncompiled: Uncompiled[] = [];
  const entries = new Map<string, string>();
  for (const element of elements) {
    const { tag, file, exportName } = element;
    const name = className(element);
    const from = JSON.stringify(join(root, file));
    entries.set(tag, `import { ${exportName} as ${name} } from ${from};\n${name}.define();\nexport { ${name} };\n`);
  }
  const loaders = elements.map(({ tag }) => `  ${JSON.stringify(tag)}: () => import('${entryPrefix}${tag}'),\n`);
  entries.set('on-demand', `import { loadOnDemand } from 'eltrix/compiled';\nloadOnDemand({\n${loaders.join('')}});\n`);
  entries.set('all', elements.map(({ tag }) => `export * from '${entryPrefix}${tag}';\n`).join(''));
  const common = {
    // URLs that work from any folder, and under a policy without `data:`.
    base: './',
    worker: { format: 'es' as const, rolldownOptions: { output: { entryFileNames: 'worker/[name]-[hash].js' } } },
    resolve: { conditions: ['production', 'browser', 'module'] },
  } satisfies InlineConfig;
  const { target, classic, sourcemap, render, context, changed, watch } = options;
  const key = JSON.stringify([
    root,
    bundlerVersion(root),
    target,
    classic,
    sourcemap,
    render,
    context,
    watch,
    [...entries],
  ]);
  // A classic script and a server module contain everything in one file.
  const rechunker = watch && !classic && !render ? rechunkerOf(key) : undefined;
  const { compile } = options;
  const listener: Listener = {
    compile:
      compile &&
      (async (file, code) => {
        const known = rechunker?.known(file, code);
        if (known !== undefined) return known;
        const compiled = await compile(file, code);
        rechunker?.compiled(file, code, compiled);
        return compiled;
      }),
    uncompiled: found => void uncompiled.push(found),
  };
  const names = [...entries.keys()].filter(name => name !== 'all');
  type Build = (slot: Slot) => NonNullable<InlineConfig['build']>;
  const make = (key: string, build: Build, further: (slot: Slot) => Plugin[] = () => []) => {
    const slot = slotOf(key, listener);
    const plugins = [
      ...further(slot),
      entryPlugin(entries, root),
      readableModules(root),
      refuseNode(root),
      refusePlainCss(root),
      refuseUnknownSyntax(root),
      ...eltrix({
        lean: true,
        rendered: !!options.render,
        onUncompiled: found => slot.listener.uncompiled(found),
        ...(options.compile && { compile: (file, code) => slot.listener.compile!(file, code) }),
      }),
    ];
    slot.builder ??= bundlerConfig(root, { ...common, plugins, build: build(slot) }).then(createBuilder);
    return output(slot.builder).catch((error: unknown) => {
      throw sourceError(error, root);
    });
  };
  const separate = (names: readonly string[], codeSplitting?: CodeSplitting) => ({
    write: false,
    target: options.target,
    minify: 'oxc' as const,
    assetsInlineLimit: 0,
    modulePreload: false as const,
    sourcemap: options.sourcemap,
    rolldownOptions: {
      input: Object.fromEntries(names.map(name => [name, entryPrefix + name])),
      preserveEntrySignatures: 'exports-only' as const,
      output: {
        format: 'esm' as const,
        entryFileNames: '[name].js',
        chunkFileNames: 'shared-[hash].js',
        assetFileNames: '[name]-[hash][extname]',
        minifyInternalExports: true,
        ...(codeSplitting && { codeSplitting }),
      },
    },
  });
  if (rechunker && changed) {
    const rest = { name: 'rest', test: (id: string) => !rechunker.isOwn(id), minShareCount: 1, priority: 1 };
    const apart: MakeApart = async (tag, way) => {
      uncompiled.length = 0;
      const files = await make(
        `${tag} ${way} ${key}`,
        () => separate([tag], way === 'themselves' ? { groups: [rest] } : undefined),
        () => [rechunker.apart(entries.get(tag)!)],
      );
      return { files, uncompiled: [...uncompiled] };
    };
    // The whole bundle reports errors.
    const bundle = await rechunker.again(root, changed, apart).catch(() => undefined);
    if (bundle) return { ...bundle, uncompiled: distinct(bundle.uncompiled) };
    uncompiled.length = 0;
  }
  const modules = await make(
    key,
    ({ lean }) => separate(names, sharedFiles(lean, elements.length)),
    ({ lean }) => [leanChunks(lean), ...(rechunker ? [rechunker.plugin(elements.map(({ tag }) => tag))] : [])],
  );
  const files = [...modules, allModule(elements)];
  if (options.classic) {
    uncompiled.length = 0;
    const classic = await make(
      `classic ${key}`,
      () => ({
        write: false,
        target: options.target,
        minify: 'oxc',
        assetsInlineLimit: 0,
        modulePreload: false,
        sourcemap: false,
        rolldownOptions: {
          input: `${entryPrefix}all`,
          output: {
            format: 'iife',
            name: 'eltrixElements',
            entryFileNames: 'classic.js',
            assetFileNames: '[name]-[hash][extname]',
            extend: true,
            intro: `var ${scriptUrl} = document.currentScript.src;`,
          },
        },
      }),
      () => [ownAddress()],
    );
    files.push(...classic.filter(({ file }) => !files.some(other => other.file === file)));
  }
  if (options.render)
    files.push(
      ...(await serverBundle(root, elements, className, typeof options.render === 'string' ? options.render : '/')),
    );
  const outputs = new Set(files.map(({ file }) => file));
  for (const file of files) refuseBareImports(file, outputs);
  const anew = files.map(({ file }) => file).filter(file => file.endsWith('.js'));
  const bundle = { files, anew, uncompiled: distinct(uncompiled) };
  rechunker?.done(bundle);
  return bundle;
}

function distinct(list: readonly Uncompiled[]): Uncompiled[] {
  return [...new Map(list.map(found => [`${found.file}:${found.line}:${found.column}`, found])).values()].sort(
    (a, b) => (a.file === b.file ? a.line - b.line : a.file < b.file ? -1 : 1),
  );
}

function allModule(elements: readonly ElementPlace[]): Bundled {
  const imports = elements.map(({ tag }) => `${tag}.js`);
  return {
    file: 'all.js',
    code: imports.map(file => `export * from "./${file}";\n`).join(''),
    imports,
    modules: new Map(),
  };
}

interface Listener {
  readonly compile: BundleOptions['compile'];
  uncompiled(found: Uncompiled): void;
}

/** A resolved configuration, reused by watched builds; messages of its plugins go to the current build. */
interface Slot {
  listener: Listener;
  /** The modules that static elements share in the last build. */
  readonly lean: LeanGroups;
  builder?: Promise<ViteBuilder>;
}

/** By their key; the last used comes last. */
const slots = new Map<string, Slot>();
const keptSlots = 8;

function slotOf(key: string, listener: Listener): Slot {
  const slot = slots.get(key) ?? { listener, lean: emptyGroups() };
  slot.listener = listener;
  slots.delete(key);
  slots.set(key, slot);
  if (slots.size > keptSlots) slots.delete(slots.keys().next().value!);
  return slot;
}

/** The state of the last watched bundle, and its key. */
let watched: { readonly key: string; readonly rechunker: Rechunker } | undefined;

function rechunkerOf(key: string): Rechunker {
  if (watched?.key !== key) watched = { key, rechunker: new Rechunker() };
  return watched.rechunker;
}

async function output(builder: Promise<ViteBuilder>): Promise<Bundled[]> {
  const { environments, build } = await builder;
  const { output } = (await build(environments['client']!)) as unknown as {
    output: (
      | {
          type: 'chunk';
          fileName: string;
          code: string;
          imports: string[];
          modules: Record<string, { renderedLength: number }>;
        }
      | { type: 'asset'; fileName: string; source: string | Uint8Array }
    )[];
  };
  return output.map(file =>
    file.type === 'chunk'
      ? {
          file: file.fileName,
          code: file.code,
          imports: file.imports,
          modules: new Map(Object.entries(file.modules).map(([id, { renderedLength }]) => [id, renderedLength])),
        }
      : { file: file.fileName, code: file.source, imports: [], modules: new Map() },
  );
}

function entryPlugin(entries: ReadonlyMap<string, string>, root: string): Plugin {
  return {
    name: 'eltrix-entries',
    enforce: 'pre',
    resolveId: {
      filter: { id: [new RegExp(`^${entryPrefix}`), /^eltrix\/compiled$/] },
      handler(id, importer) {
        if (id.startsWith(entryPrefix)) return `\0${id}`;
        // The entries are virtual, so their imports are resolved from the project.
        return importer?.startsWith('\0') ? this.resolve(id, join(root, 'package.json')) : undefined;
      },
    },
    load: {
      filter: { id: new RegExp(`^\0${entryPrefix}`) },
      handler: id => entries.get(id.slice(entryPrefix.length + 1)),
    },
  };
}

/** @throws ToolError if an output imports anything but its neighbours. */
function refuseBareImports({ file, imports, modules }: Bundled, names: ReadonlySet<string>): void {
  const name = imports.find(name => !names.has(name));
  if (name === undefined) return;
  const importers = [...modules.keys()].filter(id => !id.startsWith('\0')).map(id => id.replace(/^.*?(?=src\/)/, ''));
  throw new ToolError(
    'bare-import',
    `${file} would still import "${name}", which no page can resolve (it is made from ${importers.slice(0, 3).join(', ')}). Install it, so that it can be bundled, or take the import out.`,
  );
}
