/**
 * Rebuilds the file of one element after a change that touches no other file. The bundler is given only
 * the modules of that file, with stand-ins for those that it imports from others; what the file imports from where is
 * taken over from before. Whether that gives what the whole bundle gives is not supposed but seen: first the old file is
 * made in the same way, and has to come out byte for byte. If it does not, the modules themselves are taken in place of
 * the stand-ins, and if it still does not, the whole is bundled.
 */
import { readFileSync } from 'node:fs';
import { dirname, relative, resolve } from 'node:path';
import type { Plugin } from 'vite';
import { fileOf } from '../project/sheet-modules.ts';
import type { Bundle } from './bundled.ts';
import type { CompiledModule } from './compiled-module.ts';

/** The file of an element as it was made last. */
interface Made {
  /** The statements that import, as they stand before the file is minified. */
  readonly head: string;
  /** The modules that it consists of. */
  readonly modules: readonly string[];
  /** The way to make it apart, and what it imports then, once the old file has come out of that. */
  apart?: { readonly way: Way; readonly imports: string } | undefined;
}

/** What a module was made from. */
interface Input {
  readonly code: string;
  readonly compiled?: CompiledModule | null;
}

/** What becomes of modules that other files hold: stand-ins, or themselves in a file that is not needed. */
type Way = 'stand-ins' | 'themselves';
const ways: readonly Way[] = ['stand-ins', 'themselves'];

/** What the bundler is doing apart from the whole. */
interface Job {
  readonly way: Way;
  readonly file: string;
  readonly modules: ReadonlySet<string>;
  /** What stands in place of its imports. */
  readonly head: string;
  /** Whether it makes the old file. */
  readonly old: boolean;
  /** What it imports, and its modules. */
  seen: { readonly imports: string; readonly modules: string } | undefined;
}

/** Makes the file of one element, by a bundler that has the plugin for files apart. */
export type MakeApart = (tag: string, way: Way) => Promise<Omit<Bundle, 'anew'>>;

/** Of one bundle: what is needed to rebuild some of its files. */
export class Rechunker {
  readonly #made = new Map<string, Made>();
  readonly #inputs = new Map<string, Input>();
  /** All modules, and what each exports. */
  readonly #graph = new Map<string, readonly string[]>();
  /** The modules that some file holds; others only re-export, or are not needed. */
  readonly #held = new Set<string>();
  #bundle: Bundle | undefined;
  #job: Job | undefined;

  /** Takes note of what was compiled for the bundle. */
  compiled(file: string, code: string, compiled: CompiledModule | null): void {
    if (!this.#job) this.#inputs.set(file, { code, compiled });
  }

  /** What an old module was compiled to, where an old file is made. */
  known(file: string, code: string): CompiledModule | null | undefined {
    const input = this.#job?.old ? this.#inputs.get(file) : undefined;
    return input?.code === code ? input.compiled : undefined;
  }

  /** Takes note of what became of it all. */
  done(bundle: Bundle): void {
    this.#bundle = bundle;
  }

  /** Part of the whole bundler: takes note of what it makes of elements' files. */
  plugin(tags: readonly string[]): Plugin {
    const rechunker = this;
    const own = new Set(tags.map(tag => `${tag}.js`));
    return {
      name: 'eltrix-rechunk',
      buildStart() {
        rechunker.#bundle = undefined;
        rechunker.#made.clear();
        rechunker.#inputs.clear();
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
   * Part of a bundler that makes one file.
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
          // What runs in which order does not depend on who is imported first.
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
          // Lines keep their numbers, and so the source map holds.
          return { code: onLines(job.head, linesIn(head)) + code.slice(head.length), map: null };
        },
      },
    };
  }

  #standIn(id: string): string {
    const own = [...this.#job!.modules];
    const from = (name: string) =>
      // What only leads on may lead to what the file itself holds.
      (!this.#held.has(id) && own.find(own => this.#graph.get(own)?.includes(name))) || `${elsewhere}${id}`;
    return this.#graph
      .get(id)!
      .map(name => `export { ${name} } from ${JSON.stringify(from(name))};\n`)
      .join('');
  }

  /** Whether a module belongs to the file that is being made. */
  isOwn(id: string): boolean {
    return this.#job!.modules.has(id);
  }

  /**
   * The bundle after some files were changed; nothing may have come or gone.
   * @returns undefined where more is concerned than the files of one or two elements.
   */
  async again(root: string, changed: ReadonlySet<string>, make: MakeApart): Promise<Bundle | undefined> {
    if (!this.#bundle) return undefined;
    const concerned = new Set<string>();
    for (const path of changed) {
      if (![...this.#graph.keys()].some(id => fileOf(id) === path)) continue;
      // Sheets and pictures are in other files than their own.
      if (!isSource(path)) return undefined;
      const owner = [...this.#made].find(([, { modules }]) => modules.includes(path));
      // With other imports a name may stand for something else.
      if (!owner || importsIn(this.#inputs.get(path)?.code) !== importsIn(readFileSync(path, 'utf8'))) return undefined;
      concerned.add(owner[0]);
    }
    if (concerned.size > 2) return undefined;
    for (const file of concerned) {
      const bundle = await this.#anew(root, file, make);
      if (!bundle) return undefined;
      this.#bundle = bundle;
    }
    return { ...this.#bundle, anew: [...concerned] };
  }

  /** Whether modules of a file import different things by one name, so that the name alone is ambiguous. */
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

/** Where stand-ins have everything from. */
const elsewhere = 'eltrix-elsewhere:';

/** Whether a module's code is what stands in its file. */
const isSource = (id: string) => !id.startsWith('\0') && /\.[cm]?[jt]sx?$/.test(id);
const linesIn = (text: string) => text.split('\n').length - 1;
const headOf = (code: string) => /^(?:import\b[^\n]*;\n)*/.exec(code)![0];

/** The statements of a module that import. */
const importsIn = (code = '') =>
  (code.match(/\bimport\b[^'"]*['"][^'"]*['"]|\bexport\b[^'";]*\bfrom\s*['"][^'"]*['"]/g) ?? []).join('\n');

/** What is imported, in its own order: the bundler calls everything after what it is called where it stands. */
function importedBy(head: string, way: Way): string {
  const statements = head.split('\n').map(statement => {
    const [, names = '', from = ''] = /^import\s*(.*?)\s*(?:\bfrom\s*)?(["'][^"']*["']);$/.exec(statement) ?? [];
    const list = names
      .replace(/[{}]/g, '')
      .split(/\s*,\s*/)
      .sort();
    // Where modules stand for themselves, all are in one file, under other names.
    return way === 'stand-ins' ? `${from} ${list.join()}` : list.map(name => name.replace(/.*\sas\s+/, '')).join();
  });
  return statements.sort().join('\n');
}

/** Statements, one a line, on as many lines as are wanted. */
function onLines(head: string, count: number): string {
  const statements = head.split('\n').slice(0, -1);
  const lines = [statements.splice(0, Math.max(1, statements.length - count + 1)).join(' '), ...statements];
  while (lines.length < count) lines.push('');
  return lines.length === 1 && lines[0] === '' ? '' : lines.map(line => `${line}\n`).join('');
}

/** Imports with the names of files that were known only when all were made: the file that was written has them. */
function withNames(head: string, code: string): string {
  const names = [...code.matchAll(/(?:\bfrom|\bimport)\s*(["'])([^"']+)\1/g)].map(([, , name]) => name!);
  let at = 0;
  return head.replace(/(["'])[^"'\n]*\1;$/gm, () => `${JSON.stringify(names[at++] ?? '')};`);
}
