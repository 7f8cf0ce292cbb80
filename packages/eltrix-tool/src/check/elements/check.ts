/** The conformance suite: every rule, for every element, in real engines. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { bundleElements } from '../../compile/bundle.ts';
import { elementAddress, scriptAddress } from '../../compile/element-modules.ts';
import { budgetOf, measure, wholeWeight } from '../../compile/sizes.ts';
import { bundleWritten } from '../../compile/written.ts';
import type { ElementDescription } from '../../describe/description.ts';
import { classNameOf, describeElement } from '../../describe/model.ts';
import type { Engine, Page, Session } from '../../engines/index.ts';
import type { Bytes } from '../../project/config.ts';
import type { FoundElement } from '../../project/discover.ts';
import type { Finding } from '../../project/finding.ts';
import { folderOf, plainHtml, readSpecimens } from '../../project/specimens.ts';
import type { CheckOutcome, CheckSpecimen, Failure, RuleResult } from '../page/model.ts';
import { checkPage } from '../pages/check-page.ts';
import { type Vocabulary, vocabularyOf } from '../pages/vocabulary.ts';
import { checkSources } from '../sources.ts';
import { type CheckServer, startCheckServer } from './server.ts';

export interface CheckedElement {
  readonly tag: string;
  /** The source, from the project's folder. */
  readonly file: string;
  readonly specimens: readonly string[];
  /** By engine. */
  readonly engines: Readonly<Record<string, readonly RuleResult[]>>;
  /** By engine, a PNG a specimen. */
  readonly pictures: Readonly<Record<string, readonly Uint8Array[]>>;
}

export interface CheckOptions {
  readonly target: string;
  readonly budget?: Bytes | Readonly<Record<string, Bytes>> | undefined;
  /** Rules that are left out. */
  readonly without: readonly string[];
  /** Whether pictures are taken. */
  readonly pictures: boolean;
  /** How long an element may take, in milliseconds. */
  readonly timeout: number;
  readonly progress?: (step: string) => void;
}

/** What is checked, wherever it comes from. */
export interface Subject {
  readonly description: ElementDescription;
  readonly specimens: readonly CheckSpecimen[];
  /** Where relative addresses in specimens lead, from the server's base. */
  readonly base: string;
  readonly foreign: boolean;
}

/** Files that pages load, by name. */
type Files = ReadonlyMap<string, string | Uint8Array>;

export interface CheckResult {
  readonly elements: readonly CheckedElement[];
  /** What is wrong with specimen files. */
  readonly findings: readonly Finding[];
  /** The engines, as they call themselves. */
  readonly engines: readonly string[];
}

export async function checkElements(
  root: string,
  elements: readonly FoundElement[],
  engines: readonly Engine[],
  options: CheckOptions,
): Promise<CheckResult> {
  options.progress?.('Bundling');
  const bundling = { target: options.target, classic: false, sourcemap: false };
  const [written, compiled] = await Promise.all([
    bundleWritten(root, elements, options.target),
    bundleElements(root, elements, classNameOf, bundling),
  ]);
  const files = new Map<string, string | Uint8Array>(written);
  for (const { file, code } of compiled.files) files.set(`compiled/${file}`, code);
  const described = elements.map(element => describeElement(root, element));
  const vocabulary = vocabularyOf(described);
  const findings = checkSources(root, described, vocabulary);
  const subjects = elements.map((element): Subject => {
    const read = readSpecimens(root, element);
    findings.push(...(read?.problems ?? []));
    if (read) findings.push(...checkSpecimens(root, read.file, vocabulary));
    const specimens = (read?.specimens ?? []).map(({ title, slug, html, styles, scripts }) => ({
      title,
      html,
      styles,
      scripts: scripts.map((_, index) => `./${scriptAddress(element.tag, slug, index)}`),
    }));
    const plain = { title: 'As it is made', html: plainHtml(element), styles: [], scripts: [] };
    return {
      description: describeElement(root, element),
      specimens: specimens.length > 0 ? specimens : [plain],
      base: `files/${folderOf(read?.file ?? element.file)}`,
      foreign: false,
    };
  });
  const budgets = await budgetResults(elements, compiled.files, options);
  const result = await checkSubjects(
    root,
    subjects,
    files,
    engines,
    options,
    tag => [elementAddress(tag)],
    tag => `compiled/${tag}.js`,
  );
  return {
    ...result,
    findings,
    elements: result.elements.map(element => ({
      ...element,
      engines: Object.fromEntries(
        Object.entries(element.engines).map(([name, results]) => [name, [...results, budgets.get(element.tag)!]]),
      ),
    })),
  };
}

/** Specimens are pages, too. */
function checkSpecimens(root: string, file: string, vocabulary: Vocabulary): Finding[] {
  return checkPage(file, readFileSync(join(root, file), 'utf8'), vocabulary).filter(
    ({ code }) => code !== 'script-missing' && code !== 'id-twice',
  );
}

/**
 * @param modulesOf the files that may define a tag.
 * @param compiledOf its compiled file, if there is one.
 */
export async function checkSubjects(
  root: string,
  subjects: readonly Subject[],
  files: Files,
  engines: readonly Engine[],
  options: CheckOptions,
  modulesOf: (tag: string) => readonly string[],
  compiledOf?: (tag: string) => string,
): Promise<Omit<CheckResult, 'findings'>> {
  const bySubject = new Map(subjects.map(subject => [subject.description.tag, subject]));
  const others = (from: (tag: string) => string) =>
    Object.fromEntries([...bySubject.keys()].map(tag => [tag, `./${from(tag)}`]));
  const compiledOthers = compiledOf ? others(compiledOf) : {};
  // Of foreign elements each stands alone.
  const writtenOthers = compiledOf ? others(tag => modulesOf(tag)[0]!) : {};
  /** By the number that their pages have in their addresses. */
  const visitors = new Map<string, Visitor>();
  const server = await startCheckServer(
    root,
    files,
    query => {
      const subject = bySubject.get(query.get('tag') ?? '');
      if (!subject) return undefined;
      const { tag } = subject.description;
      const isCompiled = query.has('compiled') && compiledOf !== undefined;
      const { [tag]: _, ...rest } = isCompiled ? compiledOthers : writtenOthers;
      const modules = (isCompiled ? [compiledOf(tag)] : modulesOf(tag)).map(file => `./${file}`);
      return { ...subject, modules, others: rest, digestOnly: isCompiled, without: options.without };
    },
    subjects.every(({ foreign }) => !foreign),
    async visitor => visitors.get(visitor)?.front(),
  );
  const results = new Map<string, Record<string, readonly RuleResult[]>>(
    subjects.map(({ description }) => [description.tag, {}]),
  );
  const pictures = new Map<string, Record<string, Uint8Array[]>>(
    subjects.map(({ description }) => [description.tag, {}]),
  );
  /** Checks every element in one engine. @returns the engine, as it calls itself. */
  const checkIn = async (engine: Engine): Promise<string> => {
    options.progress?.(`Starting ${engine.name}`);
    const sessions = new Sessions(engine);
    try {
      const { version } = await sessions.current;
      let next = 0;
      let done = 0;
      const work = async () => {
        const visitor = new Visitor(sessions, options.timeout, String(visitors.size));
        visitors.set(visitor.id, visitor);
        for (let subject = subjects[next++]; subject; subject = subjects[next++]) {
          const { tag } = subject.description;
          const unsupported = subject.description.extends !== undefined && engine.name === 'webkit';
          results.get(tag)![engine.name] = unsupported
            ? []
            : await checkOne(visitor, server, subject, compiledOf !== undefined, options);
          options.progress?.(`${engine.name}: ${++done} of ${subjects.length}`);
        }
        await visitor.close();
      };
      // WebKit gives one page at a time what it needs.
      await Promise.all(Array.from({ length: engine.name === 'webkit' ? 1 : 2 }, work));
      if (options.pictures) {
        options.progress?.(`${engine.name}: pictures`);
        const shown = subjects.filter(({ description }) => results.get(description.tag)![engine.name]!.length > 0);
        for (const [tag, list] of await takePictures(engine, await sessions.current, server, shown))
          pictures.get(tag)![engine.name] = list;
      }
      return version;
    } finally {
      await sessions.end();
    }
  };
  let versions: readonly string[];
  try {
    versions = await allSettled(engines.map(checkIn));
  } finally {
    await server.close();
  }
  /** In the order of the engines that were asked for, whichever ended first. */
  const inOrder = <T>(byEngine: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(engines.flatMap(({ name }) => (name in byEngine ? [[name, byEngine[name]!]] : [])));
  return {
    engines: versions,
    elements: subjects.map(({ description: { tag, file }, specimens }) => ({
      tag,
      file,
      specimens: specimens.map(({ title }) => title),
      engines: inOrder(results.get(tag)!),
      pictures: inOrder(pictures.get(tag)!),
    })),
  };
}

/** Waits for all of them, so that every engine has ended when one of them fails. */
async function allSettled<T>(running: readonly Promise<T>[]): Promise<T[]> {
  await Promise.allSettled(running);
  return Promise.all(running);
}

/** The session of an engine that all its visitors use, started again if it hangs. */
class Sessions {
  current: Promise<Session>;

  constructor(readonly engine: Engine) {
    this.current = engine.start();
  }

  async replace(hanging: Session): Promise<void> {
    if ((await this.current) !== hanging) return;
    this.current = this.end().then(() => this.engine.start());
    await this.current;
  }

  /** What was found stays true when the engine, or its start, fails at the end. */
  async end(): Promise<void> {
    await this.current.then(session => session.close()).catch(() => {});
  }
}

/** One page that goes from element to element; a new one where it was lost. */
class Visitor {
  #page: Page | undefined;
  #session: Session | undefined;

  constructor(
    readonly sessions: Sessions,
    readonly timeout: number,
    readonly id: string,
  ) {}

  /** What the page of an address found. An engine may lose a page that is not to blame, so a lost one is tried again. */
  async outcome(address: string): Promise<CheckOutcome | Failure> {
    const first = await this.#try(address);
    return 'results' in first ? first : this.#try(address);
  }

  async #try(address: string): Promise<CheckOutcome | Failure> {
    const lost = async (seen: string): Promise<Failure> => {
      await this.close();
      return {
        did: 'opened the element in a page',
        expected: 'the rules are carried out',
        seen,
        fix: 'Look at it with npx eltrix serve.',
      };
    };
    try {
      const outcome = await within(
        this.timeout,
        (async () => {
          const page = await this.#open(address);
          return Promise.race([page.evaluate<CheckOutcome>('globalThis.eltrixOutcome'), page.lost]);
        })(),
      );
      if (outcome === undefined) return lost(`nothing came for ${this.timeout / 1000} s: the page hangs`);
      return typeof outcome === 'string' ? lost(outcome) : outcome;
    } catch (error) {
      return lost(error instanceof Error ? error.message.split('\n')[0]! : String(error));
    }
  }

  async #open(address: string): Promise<Page> {
    if (this.#page) await this.#page.go(address);
    else {
      this.#session = await this.sessions.current;
      this.#page = await this.#session.open(address);
    }
    return this.#page;
  }

  /** A page that is in front has the focus. */
  async front(): Promise<void> {
    // Chromium is told to behave as if each page were in front.
    // A page that is just being lost has nothing to be in front of: its visitor notices by itself.
    if (this.#session?.name === 'firefox') await this.#page?.front().catch(() => {});
  }

  /** Closes the page. A driver that cannot close a page that hangs is started again. */
  async close(): Promise<void> {
    const [page, session] = [this.#page, this.#session];
    this.#page = undefined;
    if (!page || !session) return;
    const closed = page.close().then(
      () => true,
      () => true,
    );
    if (!(await within(5000, closed))) await this.sessions.replace(session);
  }
}

/** @returns what a promise resolves with, or undefined if that takes longer. */
async function within<T>(milliseconds: number, promise: Promise<T>): Promise<T | undefined> {
  const enough = new AbortController();
  try {
    return await Promise.race([promise, sleep(milliseconds, undefined, { signal: enough.signal })]);
  } finally {
    enough.abort();
  }
}

async function checkOne(
  visitor: Visitor,
  server: CheckServer,
  { description: { tag }, specimens }: Subject,
  withCompiled: boolean,
  { without }: CheckOptions,
): Promise<RuleResult[]> {
  const query = new URLSearchParams({ tag, visitor: visitor.id });
  const outcome = await visitor.outcome(`${server.base}page?${query}`);
  if (!('results' in outcome)) return [{ rule: 'page-runs', outcome: 'fails', failure: outcome }];
  const results = [...outcome.results];
  if (!withCompiled) return results;
  query.set('compiled', '');
  const compiled = await visitor.outcome(`${server.base}page?${query}`);
  if ('results' in compiled) results.push(...compiled.results);
  if (!without.includes('compiled-alike')) results.push(compareDigests(outcome.digest, compiled, specimens.length));
  return results;
}

function compareDigests(written: readonly string[], compiled: CheckOutcome | Failure, specimens: number): RuleResult {
  const rule = 'compiled-alike';
  const fix =
    'Look whether the source depends on class or function names, on toString(), or on the order in which modules run.';
  if (!('results' in compiled))
    return { rule, outcome: 'fails', failure: { ...compiled, did: 'opened the compiled file in a page' } };
  // Modules stand in other folders of the server; what they make of their own address is no difference.
  const plain = (text = '') => text.replace(/(http:\/\/127\.0\.0\.1:\d+\/\w+\/)(?:parts|compiled|elements)\//g, '$1');
  for (const at of written.keys()) {
    const [text, other] = [plain(written[at]), plain(compiled.digest[at])];
    if (text === other) continue;
    const [left, right] = [text.split('\n'), other.split('\n')];
    const line = left.findIndex((one, index) => one !== right[index]);
    const did =
      at < specimens ? `showed "${left[0]}" as written and compiled` : `set ${left[0]} as written and compiled`;
    return {
      rule,
      outcome: 'fails',
      failure: {
        did,
        expected: left[line]?.trim() ?? '(nothing more)',
        seen: right[line]?.trim() ?? '(nothing more)',
        fix,
      },
    };
  }
  return { rule, outcome: 'holds' };
}

/** A picture of each specimen of each element, in one page that goes from one to the next. */
async function takePictures(
  engine: Engine,
  running: Session,
  server: CheckServer,
  subjects: readonly Subject[],
): Promise<Map<string, Uint8Array[]>> {
  if (!engine.picturesApart) return takePicturesIn(running, server, subjects);
  const session = await engine.start({ pictures: true });
  try {
    return await takePicturesIn(session, server, subjects);
  } finally {
    await session.close();
  }
}

async function takePicturesIn(
  session: Session,
  server: CheckServer,
  subjects: readonly Subject[],
): Promise<Map<string, Uint8Array[]>> {
  const taken = new Map<string, Uint8Array[]>();
  let page: Page | undefined;
  const limit = () => sleep(4000, undefined, { ref: false });
  for (const { description, specimens } of subjects) {
    const list: Uint8Array[] = [];
    taken.set(description.tag, list);
    for (const at of specimens.keys()) {
      const address = `${server.base}picture?${new URLSearchParams({ tag: description.tag, at: String(at) })}`;
      if (page) await page.go(address);
      else page = await session.open(address, { viewport: { width: 480, height: 300 } });
      // One that never comes to rest is shown as it is.
      await Promise.race([page.evaluate('globalThis.eltrixShown').catch(() => {}), limit()]);
      const picture = await Promise.race([page.screenshot().catch(() => undefined), limit()]);
      // A driver may wait for ever for a frame that no screen asks for: then there are no more pictures of it.
      if (!picture) return taken;
      list.push(picture);
    }
  }
  await page?.close();
  return taken;
}

async function budgetResults(
  elements: readonly FoundElement[],
  files: Parameters<typeof measure>[0],
  { budget, without }: CheckOptions,
): Promise<Map<string, RuleResult>> {
  const rule = 'budget';
  const results = new Map<string, RuleResult>();
  const measured =
    budget === undefined || without.includes(rule) ? [] : await measure(files, new Set(elements.map(({ tag }) => tag)));
  const byFile = new Map(measured.map(file => [file.file, file]));
  for (const { tag } of elements) {
    const limit = budget === undefined ? undefined : budgetOf(budget, tag);
    const own = byFile.get(`${tag}.js`);
    if (limit === undefined || !own) {
      results.set(tag, { rule, outcome: 'not-applicable', reason: 'the configuration has no budget for it' });
      continue;
    }
    const weight = wholeWeight(own, measured);
    results.set(
      tag,
      weight <= limit
        ? { rule, outcome: 'holds' }
        : {
            rule,
            outcome: 'fails',
            failure: {
              did: 'built it',
              expected: `at most ${limit} bytes of brotli with all that it loads`,
              seen: `${weight} bytes`,
              fix: 'npx eltrix build says what weighs most.',
            },
          },
    );
  }
  return results;
}
