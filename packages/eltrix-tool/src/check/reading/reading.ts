/** Reads sources from the cache, or in separate threads. */
import { resolve, sep } from 'node:path';
import type { Worker } from 'node:worker_threads';
import type { CompiledModule } from '../../compile/compiled-module.ts';
import { type Usage, usageBelow } from '../../compile/usage.ts';
import { type Emitted, emitDeclarations } from '../../describe/emitted.ts';
import type { Finding } from '../../project/finding.ts';
import { areAsRead } from '../../project/passed-names.ts';
import { lookAgain } from '../../project/seen.ts';
import { digestOf, type KeptValue, projectDigest, ReadingCache } from './cache.ts';
import type { Question, ReadElements, Unasked } from './messages.ts';
import { SourceThread } from './source-thread.ts';

/** The number of element classes from which a second thread is worth its start. */
const many = 40;

/** What is read. */
interface Project {
  readonly root: string;
  readonly source: string;
  /** Whether elements adopt views that a server has rendered. */
  readonly rendered: boolean;
  /**
   * A digest of the project's state; only for the first reading, since afterwards this process knows more than the
   * cache.
   */
  readonly digest: string | undefined;
  /** The names of classes that others extend, on which compilation depends. */
  readonly usage: Usage;
  /** The same as text. */
  readonly used: string;
}

export class Reading {
  readonly #reader = new SourceThread(module => this.#compiled.set(module.file, module));
  /** Compiles; the reader itself in a small project. */
  #compiler = this.#reader;
  readonly #compiled = new Map<string, { readonly code: string; readonly module: CompiledModule | null }>();
  #cache: ReadingCache | undefined;
  #project: Project | undefined;
  #companions: Record<string, string> | undefined;
  /** Under way for the last reading, if that needs them. */
  #emitted: Promise<Emitted> | undefined;
  /** Whether a thread has read before. */
  #hasRead = false;
  /** The thread that has read the current state of the project. */
  #knowing: Worker | undefined;

  /**
   * Reads the elements of a source folder again.
   * @param rendered whether elements adopt views that a server has rendered.
   * @param changed the files that changed since the last reading; undefined if files were added or removed.
   * @throws ToolError for a source that does not parse or load, and for two elements with the same tag.
   */
  async read(root: string, source: string, rendered: boolean, changed?: ReadonlySet<string>): Promise<ReadElements> {
    lookAgain(resolve(root, source), changed);
    const first = this.#cache === undefined;
    this.#cache ??= new ReadingCache(root);
    // Loads while the project is being scanned.
    if (this.#cache.isEmpty) this.#reader.start();
    const usage = usageBelow(root);
    const names = [...usage.extended].flatMap(([file, names]) => [...names].map(name => `${file}:${name}`));
    const used = [[String(rendered)], names, usage.members, usage.names].map(set => [...set].sort().join()).join(';');
    // Modules may be compiled differently then.
    const isElse = used !== this.#project?.used;
    if (isElse) this.#compiled.clear();
    const state = first ? projectDigest(root, source) : undefined;
    const digest = state && digestOf(source, state);
    this.#project = { root, source, rendered, digest, used, usage };
    this.#knowing = undefined;
    const kept = digest && this.#cache.get('read', digest);
    if (kept) return kept;
    const read = await this.#readInThread(isElse ? undefined : changed);
    // Loaded modules may depend on any file.
    if (digest && !read.loaded) this.#cache.keep('read', digest, read);
    return read;
  }

  /** The facts, besides its code, on which the compilation of a module depends; known as soon as reading has begun. */
  get context(): string {
    return this.#project!.used;
  }

  /** @throws SourceMistake for a template that can never work. */
  async compile(file: string, code: string): Promise<CompiledModule | null> {
    const { root, rendered, used } = this.#project!;
    const known = this.#compiled.get(file);
    if (known?.code === code && areAsRead(known.module?.read ?? {})) return this.#keep(file, known.code, known.module);
    const digest = digestOf(code, used);
    const kept = this.#cache!.module(file, digest);
    const module =
      kept === undefined
        ? await this.#compiler.ask<CompiledModule | null>({ kind: 'compile', root, rendered, file, code })
        : kept;
    return this.#keep(file, code, module);
  }

  #keep(file: string, code: string, module: CompiledModule | null): CompiledModule | null {
    const { root, used, digest } = this.#project!;
    this.#compiled.set(file, { code, module });
    if (digest && file.startsWith(root + sep)) this.#cache!.keepModule(file, digestOf(code, used), module);
    return module;
  }

  /** The findings in the sources of the elements that were read last. */
  findings(): Promise<readonly Finding[]> {
    return this.#fromThread('findings', '', () => ({ kind: 'findings' }));
  }

  /** The files beside the scripts of the elements that were read last. */
  async companions(
    project: Readonly<Record<string, unknown>>,
    scripts: readonly string[],
  ): Promise<Record<string, string>> {
    const { root, rendered } = this.#project!;
    const given = JSON.stringify([project, scripts, rendered]);
    this.#companions = await this.#fromThread('companions', given, async () => {
      const emitted = await this.#emitted;
      this.#emitted = undefined;
      return { kind: 'companions', root, rendered, project, scripts, emitted };
    });
    return this.#companions;
  }

  /** @param given further inputs, besides the project. */
  async #fromThread<K extends 'findings' | 'companions'>(
    what: K,
    given: string,
    question: () => Unasked<Question> | Promise<Unasked<Question>>,
  ): Promise<KeptValue<K>> {
    const { digest: state } = this.#project!;
    const digest = state && digestOf(state, given);
    const kept = digest && this.#cache!.get(what, digest);
    if (kept) return kept;
    if (this.#reader.start() !== this.#knowing) await this.#readInThread();
    // The thread only reports changes.
    const value =
      (await this.#reader.ask<KeptValue<K> | undefined>(await question())) ?? (this.#companions as KeptValue<K>);
    if (digest) this.#cache!.keep(what, digest, value);
    return value;
  }

  /** Caches the results for the next process. */
  save(): void {
    this.#cache?.save();
  }

  async #readInThread(changed?: ReadonlySet<string>): Promise<ReadElements> {
    const { root, source, rendered, usage } = this.#project!;
    this.#knowing = this.#reader.start();
    if (this.#compiler === this.#reader && usage.names.size >= many)
      this.#compiler = new SourceThread(module => this.#compiled.set(module.file, module));
    // What an earlier process has cached is not compiled again.
    const ahead = this.#hasRead || this.#cache!.isEmpty;
    this.#hasRead = true;
    // Its mistakes are reported to the bundler, which asks for each module.
    this.#compiler.ask({ kind: 'compiler', root, source, rendered, usage, changed, ahead }).catch(() => {});
    const read = await this.#reader.ask<ReadElements>({ kind: 'read', root, source, changed });
    // TypeScript runs beside the bundler.
    this.#emitted = read.unwritten.length > 0 ? emitDeclarations(root, read.unwritten) : undefined;
    return read;
  }
}
