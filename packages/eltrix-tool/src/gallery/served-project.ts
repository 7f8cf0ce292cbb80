/** A project that is served: what is known of it, and who is notified of changes. */
import { existsSync, readFileSync } from 'node:fs';
import type { ServerResponse } from 'node:http';
import { join, relative } from 'node:path';
import type { ViteDevServer } from 'vite';
import { addressOf, prefix, versionOf } from '../compile/element-modules.ts';
import { EmittedTexts, emitDeclarations } from '../describe/emitted.ts';
import { Descriptions, describeElement } from '../describe/model.ts';
import { onChanges } from '../project/changes.ts';
import { discover, type FoundElement } from '../project/discover.ts';
import type { Finding } from '../project/finding.ts';
import { toolFile } from '../project/library.ts';
import { readContracts } from '../project/read-contract.ts';
import { sourceError } from '../project/source-error.ts';
import { readSpecimens } from '../project/specimens.ts';
import { collectElement, collectFindings } from './collect.ts';
import type { ElementSize, GalleryElement, ServerMessage, SourceProblem } from './model.ts';
import { affected, definitionOf, outdate } from './served-modules.ts';
import { sizeOf } from './size.ts';

export interface ServedFolders {
  /** The folder of the sources, from the project's. */
  readonly source: string;
  /** What sizes are measured for. */
  readonly target: string;
}

/** What the server knows of the project, and its listeners. */
export class ServedProject {
  elements: readonly FoundElement[] = [];
  /** When frames were last notified of a change, in milliseconds; 0 before. */
  changedAt = 0;
  /** Of the gallery's own files. */
  readonly version = versionOf(toolFile('dist/gallery'));
  /** Counts what was saved. */
  #edits = 0;
  readonly #listeners = new Set<ServerResponse>();
  readonly #problems = new Map<string, SourceProblem>();
  /** What specimens an element had when it was last reported. */
  readonly #slugs = new Map<string, string>();
  readonly #sizes = new Map<string, Promise<ElementSize>>();
  readonly #descriptions = new Descriptions();
  #later: ReturnType<typeof setTimeout> | undefined;
  #beat: ReturnType<typeof setInterval> | undefined;

  constructor(
    readonly root: string,
    readonly options: ServedFolders,
  ) {}

  get problem(): SourceProblem | null {
    return [...this.#problems.values()][0] ?? null;
  }

  /** @returns whether it could be done. */
  async discoverAll(): Promise<boolean> {
    const edits = this.#edits;
    try {
      this.elements = await discover(this.root, this.options.source);
      this.#problems.clear();
      this.#infer().catch(() => {});
      return true;
    } catch (error) {
      // The source may have been fixed meanwhile.
      if (edits !== this.#edits) return this.discoverAll();
      const problem = this.#problemOf(error);
      this.#problems.set(problem.file, problem);
      return false;
    }
  }

  /** Adds the types that only TypeScript infers, as soon as they are known. */
  async #infer(): Promise<void> {
    const { elements } = this;
    const describe = () => elements.map(element => this.#descriptions.describe(this.root, element));
    const before = describe();
    this.#descriptions.outdate();
    const unwritten = this.#descriptions.unwritten(elements);
    if (unwritten.length === 0) return;
    const emitted = await emitDeclarations(this.root, unwritten);
    if (elements !== this.elements) return;
    this.#descriptions.infer(new EmittedTexts(emitted));
    const after = describe();
    const tags = elements.filter((_, i) => after[i] !== before[i]).map(({ tag }) => tag);
    if (tags.length > 0) this.report({ type: 'data', tags });
  }

  find(tag: string): FoundElement | undefined {
    return this.elements.find(element => element.tag === tag);
  }

  collect(element: FoundElement): GalleryElement {
    const description = this.#descriptions.describe(this.root, element);
    const collected = collectElement(this.root, element, description, `${prefix}project/`, undefined, undefined);
    this.#slugs.set(element.tag, collected.specimens.map(({ slug, title }) => `${slug} ${title}`).join());
    return collected;
  }

  findings(element: FoundElement): readonly Finding[] {
    const described = this.elements.map(element => this.#descriptions.describe(this.root, element));
    return collectFindings(this.root, element, described);
  }

  size(element: FoundElement): Promise<ElementSize> {
    let size = this.#sizes.get(element.tag);
    if (!size) this.#sizes.set(element.tag, (size = sizeOf(this.root, element, this.options.target)));
    return size;
  }

  listen(response: ServerResponse): void {
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
    response.write(`data: ${JSON.stringify({ type: 'problem', problem: this.problem } satisfies ServerMessage)}\n\n`);
    this.#listeners.add(response);
    response.on('close', () => this.#listeners.delete(response));
  }

  report(message: ServerMessage): void {
    for (const response of this.#listeners) response.write(`data: ${JSON.stringify(message)}\n\n`);
  }

  watch(vite: ViteDevServer): void {
    this.#beat = setInterval(() => {
      for (const response of this.#listeners) response.write(':\n\n');
    }, 20_000);
    onChanges(vite.watcher, this.root, (event, path) => {
      if (event === 'addDir' || event === 'unlinkDir') return;
      void this.#changed(vite, path, event === 'change').catch(error => {
        this.report({ type: 'problem', problem: this.#problemOf(error) });
      });
    });
  }

  end(): void {
    clearTimeout(this.#later);
    clearInterval(this.#beat);
    for (const response of this.#listeners) response.end();
  }

  async #changed(vite: ViteDevServer, path: string, still: boolean): Promise<void> {
    const file = relative(this.root, path).replaceAll('\\', '/');
    this.#edits++;
    const inSource = file.startsWith(`${this.options.source}/`) || this.options.source === '.';
    if (file.endsWith('.specimen.html')) {
      const before = this.elements.filter(element => readSpecimens(this.root, element)?.file === file);
      // A file that is gone belongs to whom its name says.
      const tags = (before.length > 0 ? before : this.elements.filter(({ tag }) => file.includes(tag))).map(
        ({ tag }) => tag,
      );
      const modules = [...vite.environments.client.moduleGraph.idToModuleMap.values()];
      outdate(
        vite,
        modules.filter(({ id }) => addressOf(id ?? '')?.startsWith('specimens/')),
      );
      const names = tags.map(tag => this.#slugs.get(tag)).join();
      this.#notifyChanged(vite, tags);
      const data: ServerMessage = { type: 'data', tags: still ? tags : undefined };
      // Frames come first, unless there are to be others.
      if (names === tags.map(tag => this.#slugs.get(tag)).join()) setTimeout(() => this.report(data), 400);
      else this.report(data);
      return;
    }
    const tags = affected(vite, path);
    // Vite does so a moment later, without other addresses, and not for what its watcher has not reported.
    outdate(vite, vite.environments.client.moduleGraph.getModulesByFile(path) ?? []);
    const isSource = /\.[cm]?[jt]sx?$/.test(file) && !/\.test\.[cm]?[jt]sx?$|\.d\.ts$/.test(file);
    if (tags.length === 0 && !(inSource && isSource)) return;
    for (const tag of tags) this.#sizes.delete(tag);
    const had = this.problem;
    if (still && isSource) {
      const problem = await this.#look(vite, file);
      if (problem) return this.report({ type: 'problem', problem: this.problem });
      if (had && !this.problem) this.report({ type: 'problem', problem: null });
    } else this.#problems.delete(file);
    if (tags.length > 0) this.#notifyChanged(vite, tags);
    if (inSource && isSource) this.#readAgain(file, still);
  }

  #notifyChanged(vite: ViteDevServer, tags: readonly string[]): void {
    const few = tags.length > 3 ? [] : this.elements.filter(({ tag }) => tags.includes(tag));
    const elements = few.map(element => ({
      element: this.collect(element),
      url: definitionOf(vite, this.root, element),
    }));
    this.changedAt = Date.now();
    this.report({ type: 'changed', tags, time: this.changedAt, elements });
  }

  /** Whether a source parses, as Vite would serve it. */
  async #look(vite: ViteDevServer, file: string): Promise<SourceProblem | undefined> {
    try {
      await vite.environments.client.transformRequest(`/${file}`);
      this.#problems.delete(file);
      return undefined;
    } catch (error) {
      const problem = this.#problemOf(error, file);
      this.#problems.set(file, problem);
      return problem;
    }
  }

  /** Contracts may be other ones: of this file, or, where that does not do, of all. */
  #readAgain(file: string, still: boolean): void {
    clearTimeout(this.#later);
    this.#later = setTimeout(async () => {
      // What does not parse is read when it does again.
      if (this.#problems.has(file)) return;
      const own = this.elements.filter(element => element.file === file);
      const describe = (elements: readonly FoundElement[]) =>
        JSON.stringify(elements.map(element => describeElement(this.root, element)));
      // While another file has a problem, only reading all of them says whether it has gone.
      if (still && own.length > 0 && !this.problem) {
        const path = join(this.root, file);
        const read = await readContracts(file, path, readFileSync(path, 'utf8')).catch(() => undefined);
        if (read && sameExports(own, read)) {
          this.elements = this.elements.map(element => {
            const found = element.file === file && read.find(({ exportName }) => exportName === element.exportName);
            return found ? { ...element, contract: found.contract } : element;
          });
          this.report({ type: 'data', tags: own.map(({ tag }) => tag) });
          this.#infer().catch(() => {});
          return;
        }
      }
      const before = describe(this.elements.filter(element => existsSync(join(this.root, element.file))));
      const count = this.elements.length;
      const [had, well] = [this.problem, await this.discoverAll()];
      if (!well || had) this.report({ type: 'problem', problem: this.problem });
      if (!well) return;
      if (count !== this.elements.length || before !== describe(this.elements))
        this.report({ type: 'data', tags: undefined });
    }, 250);
  }

  #problemOf(error: unknown, file = ''): SourceProblem {
    const { message, position, excerpt = '' } = sourceError(error, this.root);
    return {
      message,
      file: position?.file ?? file,
      line: position?.line ?? 1,
      column: position?.column ?? 1,
      excerpt,
    };
  }
}

function sameExports(
  a: readonly FoundElement[],
  b: readonly { readonly exportName: string; readonly contract: { readonly tag: string } }[],
): boolean {
  const key = (exportName: string, tag: string) => `${exportName} ${tag}`;
  const first = a.map(({ exportName, tag }) => key(exportName, tag)).sort();
  const second = b.map(({ exportName, contract }) => key(exportName, contract.tag)).sort();
  return first.join() === second.join();
}
