/**
 * Rebuilds the file of one element after a change that touches no other file. The bundler gets only the modules of
 * that file, with stand-ins for modules of other files; the imports between files stay as they were. To be sure of the
 * result, the old file is built in the same way first and has to be the same byte for byte. If it is not, the real
 * modules replace the stand-ins; if it still is not, everything is bundled.
 */
import { readFileSync } from 'node:fs';
import { dirname, relative, resolve } from 'node:path';
import type { Plugin } from 'vite';
import { fileOf } from '../project/sheet-modules.ts';
import type { Bundle } from './bundled.ts';
import type { CompiledModule } from './compiled-module.ts';

/** The last file of an element. */
interface Made {
  /** Its import statements, before it was minified. */
  readonly head: string;
  /** Its modules. */
  readonly modules: readonly string[];
  /** The way to build it separately, and its imports then, after the old file was reproduced. */
  apart?: { readonly way: Way; readonly imports: string } | undefined;
}

/** The inputs of a module. */
interface Input {
  readonly code: string;
  readonly compiled?: CompiledModule | null;
}

/** How modules of other files are treated: as stand-ins, or as themselves in a file that is dropped. */
type Way = 'stand-ins' | 'themselves';
const ways: readonly Way[] = ['stand-ins', 'themselves'];

/** One run of the bundler for a single file. */
interface Job {
  readonly way: Way;
  readonly file: string;
  readonly modules: ReadonlySet<string>;
  /** The text that replaces its imports. */
  readonly head: string;
  /** Whether it builds the old file. */
  readonly old: boolean;
  /** Its imports and modules. */
  seen: { readonly imports: string; readonly modules: string } | undefined;
}

/** Builds the file of one element, with the plugin for single files. */
export type MakeApart = (tag: string, way: Way) => Promise<Omit<Bundle, 'anew'>>;

/** The state of one bundle that is needed to rebuild single files. */
export class Rechunker {
  readonly #made = new Map<string, Made>();
  readonly #inputs = new Map<string, Input>();
  /** The modules on which the compilation of each module depends. */
  readonly #reads = new Map<string, ReadonlySet<string>>();
  /** All modules, with their exports. */
  readonly #graph = new Map<string, readonly string[]>();
  /** The modules in any file; others only re-export, or are not needed. */
  readonly #held = new Set<string>();
  #bundle: Bundle | undefined;
  #job: Job | undefined;

  /** Records the compiled modules of the bundle. */
  compiled(file: string, code: string, compiled: CompiledModule | null): void {
    if (!this.#job?.old) this.#reads.set(file, new Set(Object.keys(compiled?.read ?? {})));
    if (!this.#job) this.#inputs.set(file, { code, compiled });
  }

  /** The compiled code of an old module, while an old file is built. */
  known(file: string, code: string): CompiledModule | null | undefined {
    const input = this.#job?.old ? this.#inputs.get(file) : undefined;
    return input?.code === code ? input.compiled : undefined;
  }

  /** Records the output of the bundle. */
  done(bundle: Bundle): void {
    this.#bundle = bundle;
  }

  /** The plugin for whole bundles: records the files of elements. */
  plugin(tags: readonly string[]): Plugin {
    const rechunker = this;
    const own = new Set(tags.map(tag => `${tag}.js`));
    return {
      name: 'eltrix-rechunk',
      buildStart() {
        rechunker.#bundle = undefined;
        rechunker.#made.clear();
        rechunker.#inputs.clear();
        rechunker.#reads.clear();
        rechunker.#held.clear();
      },
      buildEnd() {
        rechunker.#graph.clear();
        for (const id of this.getModuleIds()) rechunker.#graph.set(id, this.getModuleInfo(id)!.exports);
      },
      renderChunk: {
        order: 'post',
        handler(code, chunk) {
          const modules = Object.keys(chunk.modules);
          for (const id of modules) rechunker.#held.add(id);
          if (!own.has(chunk.fileName)) return;
          rechunker.#made.set(chunk.fileName, { head: headOf(code), modules });
          for (const id of modules)
            if (isSource(id) && !rechunker.#inputs.has(id))
              rechunker.#inputs.set(id, { code: readFileSync(id, 'utf8') });
        },
      },
    };
  }

  /**
   * The plugin for single files.
   * @param entry the code of its entry.
   */
  apart(entry: string): Plugin {
    const rechunker = this;
    return {
      name: 'eltrix-apart',
      enforce: 'pre',
      resolveId: {
        filter: { id: new RegExp(`^${elsewhere}`) },
        handler: id => ({ id, external: true }),
      },
      load: {
        order: 'pre',
        handler(id) {
          const { old, way, modules } = rechunker.#job!;
          // The order of execution does not depend on the order of imports.
          if (this.getModuleInfo(id)?.isEntry)
            return [...[...modules].filter(isSource).map(id => `import ${JSON.stringify(id)};`), entry].join('\n');
          if (way === 'stand-ins' && !modules.has(id) && rechunker.#graph.has(id))
            return { code: rechunker.#standIn(id), moduleType: 'js' };
          return old && isSource(id) ? rechunker.#inputs.get(id)?.code : undefined;
        },
      },
      buildEnd(error) {
        const fresh = [...this.getModuleIds()].find(id => !rechunker.#graph.has(id) && !id.startsWith(elsewhere));
        if (!error && fresh !== undefined) throw new Error(`${fresh} is new.`);
      },
      renderChunk: {
        order: 'post',
        handler(code, chunk) {
          const job = rechunker.#job!;
          if (chunk.fileName !== job.file) return undefined;
          const head = headOf(code);
          const isStandIn = (id: string) => rechunker.#graph.has(id) && !job.modules.has(id);
          job.seen = {
            imports: importedBy(head, job.way),
            modules: Object.keys(chunk.modules)
              .filter(id => !isStandIn(id))
              .join(),
          };
          // Lines keep their numbers, so the source map stays valid.
          return { code: onLines(job.head, linesIn(head)) + code.slice(head.length), map: null };
        },
      },
    };
  }

  #standIn(id: string): string {
    const own = [...this.#job!.modules];
    const from = (name: string) =>
      // A module that only re-exports may lead to modules of the file itself.
      (!this.#held.has(id) && own.find(own => this.#graph.get(own)?.includes(name))) || `${elsewhere}${id}`;
    return this.#graph
      .get(id)!
      .map(name => `export { ${name} } from ${JSON.stringify(from(name))};\n`)
      .join('');
  }

  /** Whether a module belongs to the file that is being built. */
  isOwn(id: string): boolean {
    return this.#job!.modules.has(id);
  }

  /**
   * The bundle after a change of some files, if no file was added or removed.
   * @returns undefined if more than the files of one or two elements are affected.
   */
  async again(root: string, changed: ReadonlySet<string>, make: MakeApart): Promise<Bundle | undefined> {
    if (!this.#bundle) return undefined;
    const concerned = new Set<string>();
    for (const path of changed) {
      // The bundle need not contain what passes names of the library on, or types.
      for (const [reader, read] of this.#reads) {
        if (!read.has(path)) continue;
        const owner = this.#ownerOf(reader);
        if (owner === undefined) return undefined;
        concerned.add(owner);
      }
      if (![...this.#graph.keys()].some(id => fileOf(id) === path)) continue;
      // Sheets and images are separate files.
      if (!isSource(path)) return undefined;
      const owner = this.#ownerOf(path);
      // With other imports a name may refer to something else.
      if (owner === undefined || importsIn(this.#inputs.get(path)?.code) !== importsIn(readFileSync(path, 'utf8')))
        return undefined;
      concerned.add(owner);
    }
    if (concerned.size > 2) return undefined;
    for (const file of concerned) {
      const bundle = await this.#anew(root, file, make);
      if (!bundle) return undefined;
      this.#bundle = bundle;
    }
    return { ...this.#bundle, anew: [...concerned] };
  }

  /** The file of an element that contains a module. */
  #ownerOf(module: string): string | undefined {
    return [...this.#made].find(([, { modules }]) => modules.includes(module))?.[0];
  }

  /** Whether modules of a file import different exports under one name. */
  #isAmbiguous({ modules }: Made): boolean {
    const origins = new Map<string, string>();
    for (const id of modules)
      for (const [, names, from] of importsIn(this.#inputs.get(id)?.code).matchAll(/\{([^}]*)\}[^'"]*['"]([^'"]*)/g))
        for (const name of names!.split(',').map(name => name.replace(/\sas\s.*/, '').trim())) {
          const origin = from!.startsWith('.') ? resolve(dirname(id), from!) : from!;
          if (name && origins.has(name) && origins.get(name) !== origin) return true;
          origins.set(name, origin);
        }
    return false;
  }

  async #anew(root: string, file: string, make: MakeApart): Promise<Bundle | undefined> {
    const { files, uncompiled } = this.#bundle!;
    const made = this.#made.get(file)!;
    const before = files.filter(one => one.file === file || one.file === `${file}.map`);
    const head = withNames(made.head, String(before.find(one => one.file === file)!.code));
    const one = async (way: Way, old: boolean) => {
      const job: Job = { way, file, modules: new Set(made.modules), head, old, seen: undefined };
      this.#job = job;
      try {
        const { files, uncompiled } = await make(file.slice(0, -'.js'.length), way);
        return { files: files.filter(one => before.some(({ file }) => file === one.file)), uncompiled, ...job.seen };
      } finally {
        this.#job = undefined;
      }
    };
    for (const way of made.apart ? [] : ways) {
      if (way === 'themselves' && this.#isAmbiguous(made)) break;
      const again = await one(way, true).catch(() => undefined);
      const isSame = before.every(a => again?.files.some(b => a.file === b.file && a.code === b.code));
      if (!isSame || again?.imports === undefined) continue;
      made.apart = { way, imports: again.imports };
      break;
    }
    if (!made.apart) return undefined;
    const fresh = await one(made.apart.way, false);
    if (fresh.imports !== made.apart.imports || fresh.modules !== made.modules.join()) return undefined;
    const byName = new Map(fresh.files.map(one => [one.file, one]));
    if (!before.every(({ file }) => byName.has(file))) return undefined;
    const own = new Set(made.modules.map(id => relative(root, id).replaceAll('\\', '/')));
    return {
      anew: [file],
      files: files.map(one => {
        const { code = one.code, modules = one.modules } = byName.get(one.file) ?? {};
        return { ...one, code, modules };
      }),
      uncompiled: [...uncompiled.filter(({ file }) => !own.has(file)), ...fresh.uncompiled],
    };
  }
}

/** The module from which stand-ins export everything. */
const elsewhere = 'eltrix-elsewhere:';

/** Whether a module's code is the code in its file. */
const isSource = (id: string) => !id.startsWith('\0') && /\.[cm]?[jt]sx?$/.test(id);
const linesIn = (text: string) => text.split('\n').length - 1;
const headOf = (code: string) => /^(?:import\b[^\n]*;\n)*/.exec(code)![0];

/** The import statements of a module. */
const importsIn = (code = '') =>
  (code.match(/\bimport\b[^'"]*['"][^'"]*['"]|\bexport\b[^'";]*\bfrom\s*['"][^'"]*['"]/g) ?? []).join('\n');

/** The imported names in the module's order, on which the bundler's names depend. */
function importedBy(head: string, way: Way): string {
  const statements = head.split('\n').map(statement => {
    const [, names = '', from = ''] = /^import\s*(.*?)\s*(?:\bfrom\s*)?(["'][^"']*["']);$/.exec(statement) ?? [];
    const list = names
      .replace(/[{}]/g, '')
      .split(/\s*,\s*/)
      .sort();
    // Real modules are all in one file, under other names.
    return way === 'stand-ins' ? `${from} ${list.join()}` : list.map(name => name.replace(/.*\sas\s+/, '')).join();
  });
  return statements.sort().join('\n');
}

/** Joins statements, one a line, on a given number of lines. */
function onLines(head: string, count: number): string {
  const statements = head.split('\n').slice(0, -1);
  const lines = [statements.splice(0, Math.max(1, statements.length - count + 1)).join(' '), ...statements];
  while (lines.length < count) lines.push('');
  return lines.length === 1 && lines[0] === '' ? '' : lines.map(line => `${line}\n`).join('');
}

/** Replaces file names that were unknown during the build by those in the written file. */
function withNames(head: string, code: string): string {
  const names = [...code.matchAll(/(?:\bfrom|\bimport)\s*(["'])([^"']+)\1/g)].map(([, , name]) => name!);
  let at = 0;
  return head.replace(/(["'])[^"'\n]*\1;$/gm, () => `${JSON.stringify(names[at++] ?? '')};`);
}
