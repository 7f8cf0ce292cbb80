/** The conformance suite: checks every rule for every element, in real engines. */
import { bundleElements } from '../../compile/bundle.ts';
import type { Bundled } from '../../compile/bundled.ts';
import { elementAddress, scriptAddress } from '../../compile/element-modules.ts';
import { serverFile } from '../../compile/server-bundle.ts';
import { loadServerModule } from '../../compile/server-module.ts';
import { budgetOf, measure, wholeWeight } from '../../compile/sizes.ts';
import { bundleWritten } from '../../compile/written.ts';
import { classNameOf, describeElement } from '../../describe/model.ts';
import type { Engine } from '../../engines/index.ts';
import type { Pictures } from '../../engines/run/stored/pictures.ts';
import { Sessions } from '../../engines/sessions.ts';
import type { Bytes } from '../../project/config.ts';
import type { FoundElement } from '../../project/discover.ts';
import type { Finding } from '../../project/finding.ts';
import { folderOf, plainHtml, readSpecimens } from '../../project/specimens.ts';
import { withoutCode } from '../../project/without-code.ts';
import type { CheckSpecimen, RuleResult } from '../page/model.ts';
import { checkSpecimens } from '../pages/check-specimens.ts';
import { vocabularyOf } from '../pages/vocabulary.ts';
import { checkSources } from '../sources.ts';
import { compareDigests } from './compiled-alike.ts';
import { type Exempt, exemptions, refuseExemptions } from './exemptions.ts';
import { comparePictures } from './picture-check.ts';
import { takePictures } from './pictures.ts';
import { withoutOwn } from './policy.ts';
import { type CheckServer, startCheckServer } from './server.ts';
import type { Subject } from './subject.ts';
import { Visitor } from './visitor.ts';

export interface CheckedElement {
  readonly tag: string;
  /** The source, relative to the project's folder. */
  readonly file: string;
  readonly specimens: readonly string[];
  /** By engine. */
  readonly engines: Readonly<Record<string, readonly RuleResult[]>>;
  /** By engine, one PNG for each specimen. */
  readonly pictures: Readonly<Record<string, readonly Uint8Array[]>>;
}

export interface CheckOptions {
  readonly target: string;
  /** Whether elements are rendered on a server, from the configuration. */
  readonly render?: boolean | string;
  readonly budget?: Bytes | Readonly<Record<string, Bytes>> | undefined;
  /** Rules to skip. */
  readonly without: readonly string[];
  /** By tag, rules from which an element is exempt, with the reasons. */
  readonly exempt?: Exempt | undefined;
  /** Whether to take pictures for the report. */
  readonly pictures: boolean;
  /** Compares pictures of specimens, instead of checking the other rules. */
  readonly accepted?: Pictures | undefined;
  /** The time limit for one element, in milliseconds. */
  readonly timeout: number;
  readonly progress?: (step: string) => void;
}

/** Files for the pages, by name. */
type Files = ReadonlyMap<string, string | Uint8Array>;

export interface CheckResult {
  readonly elements: readonly CheckedElement[];
  /** Findings in specimen files. */
  readonly findings: readonly Finding[];
  /** The names and versions of the engines. */
  readonly engines: readonly string[];
}

export async function checkElements(
  root: string,
  elements: readonly FoundElement[],
  engines: readonly Engine[],
  options: CheckOptions,
): Promise<CheckResult> {
  options.progress?.('Bundling');
  const bundling = { target: options.target, classic: false, sourcemap: false, render: options.render ?? false };
  const [written, compiled] = await Promise.all([
    bundleWritten(root, elements, options.target),
    bundleElements(root, elements, classNameOf, bundling),
  ]);
  const files = new Map<string, string | Uint8Array>(written);
  for (const { file, code } of compiled.files) files.set(`compiled/${file}`, code);
  const rendered = await rendererOf(compiled.files);
  const described = elements.map(element => describeElement(root, element));
  const vocabulary = vocabularyOf(described);
  const findings = checkSources(root, described, vocabulary);
  const subjects = await Promise.all(
    elements.map(async (element): Promise<Subject> => {
      const read = readSpecimens(root, element);
      findings.push(...(read?.problems ?? []));
      if (read) findings.push(...checkSpecimens(root, read.file, vocabulary));
      const specimens = (read?.specimens ?? []).map(async ({ title, slug, html: written, styles, scripts }) => {
        const { html, styles: inside } = withoutOwn(written);
        return {
          title,
          html,
          styles: [...styles, ...inside],
          ...(await rendered(html)),
          scripts: scripts.map((_, index) => `./${scriptAddress(element.tag, slug, index)}`),
        };
      });
      const html = plainHtml(element);
      const plain = async () => ({ title: 'Default', html, styles: [], scripts: [], ...(await rendered(html)) });
      return {
        description: describeElement(root, element),
        specimens: await Promise.all(specimens.length > 0 ? specimens : [plain()]),
        base: `files/${folderOf(read?.file ?? element.file)}`,
        foreign: false,
        unsaid: [],
      };
    }),
  );
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
    elements: options.accepted
      ? result.elements
      : result.elements.map(element => ({
          ...element,
          engines: Object.fromEntries(
            Object.entries(element.engines).map(([name, results]) => [name, [...results, budgets.get(element.tag)!]]),
          ),
        })),
  };
}

/** How long a server waits for texts and requests, in milliseconds. */
const serverWait = 2000;

/** A server's output for a specimen; empty without server rendering. */
async function rendererOf(
  files: readonly Bundled[],
): Promise<(html: string) => Promise<Pick<CheckSpecimen, 'rendered'>>> {
  const file = files.find(({ file }) => file === serverFile);
  if (!file) return async () => ({});
  const { renderPage } = await loadServerModule(file);
  return async html => {
    let problem: Error | undefined;
    const onError = (error: Error) => {
      problem ??= error;
    };
    const rendered = await renderPage(html, { styles: 'none', onError, wait: serverWait });
    return { rendered: problem ? { error: withoutCode(problem.message) } : rendered };
  };
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
  refuseExemptions(subjects, options.exempt);
  const bySubject = new Map(subjects.map(subject => [subject.description.tag, subject]));
  const others = (from: (tag: string) => string) =>
    Object.fromEntries([...bySubject.keys()].map(tag => [tag, `./${from(tag)}`]));
  const compiledOthers = compiledOf ? others(compiledOf) : {};
  // Third-party elements are checked one by one.
  const writtenOthers = compiledOf ? others(tag => modulesOf(tag)[0]!) : {};
  /** By the number in the URLs of their pages. */
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
      return {
        ...subject,
        modules,
        others: rest,
        digestOnly: isCompiled,
        without: options.without,
        exempt: exemptions(subject.description, options.exempt),
        tags: [...bySubject.keys()],
      };
    },
    subjects.every(({ foreign }) => !foreign),
    {
      front: async visitor => visitors.get(visitor)?.front(),
      known(visitor, known) {
        const one = visitors.get(visitor);
        if (one) one.known = known;
      },
    },
  );
  const results = new Map<string, Record<string, readonly RuleResult[]>>(
    subjects.map(({ description }) => [description.tag, {}]),
  );
  const pictures = new Map<string, Record<string, Uint8Array[]>>(
    subjects.map(({ description }) => [description.tag, {}]),
  );
  /** Checks every element in one engine. @returns the name and version of the engine. */
  const checkIn = async (engine: Engine): Promise<string> => {
    options.progress?.(`Starting ${engine.name}`);
    const sessions = new Sessions(() => engine.start());
    try {
      const { version } = await sessions.current;
      let done = 0;
      /** Elements whose page was lost. */
      const lost: Subject[] = [];
      const work = async (waiting: Subject[], isCareful = false) => {
        const visitor = new Visitor(sessions, options.timeout, String(visitors.size));
        visitors.set(visitor.id, visitor);
        for (let subject = waiting.shift(); subject; subject = waiting.shift()) {
          const { tag } = subject.description;
          const unsupported = subject.description.extends !== undefined && engine.name === 'webkit';
          if (unsupported || options.accepted) results.get(tag)![engine.name] = [];
          else {
            const outcome = await checkOne(visitor, server, subject, compiledOf !== undefined, isCareful, options);
            results.get(tag)![engine.name] = outcome.results;
            if (outcome.isLost) lost.push(subject);
          }
          options.progress?.(`${engine.name}: ${++done} of ${subjects.length}`);
        }
        await visitor.close();
      };
      // WebKit only gives the front page everything that it needs.
      const lanes = engine.name === 'webkit' ? 1 : 2;
      const waiting = [...subjects];
      await Promise.all(Array.from({ length: lanes }, () => work(waiting)));
      // An engine may lose a page without its fault, and a page that hangs stops others of its process. Lost elements
      // are checked again, one by one, each in a restarted engine, by pages that report each step: that takes longer.
      for (const subject of lost.splice(0)) {
        done--;
        await sessions.replace(await sessions.current);
        await work([subject], true);
      }
      if (options.accepted) {
        options.progress?.(`${engine.name}: pictures`);
        const compared = subjects.filter(
          ({ description }) => !(description.extends !== undefined && engine.name === 'webkit'),
        );
        const found = await comparePictures(
          engine,
          await sessions.current,
          server,
          compared,
          options.accepted,
          options.timeout,
        );
        for (const [tag, result] of found) {
          const reason = exemptions(bySubject.get(tag)!.description, options.exempt)['pictures'];
          results.get(tag)![engine.name] = [
            reason === undefined ? result : { rule: 'pictures', outcome: 'exempt', reason },
          ];
        }
      } else if (options.pictures) {
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
  /** In the order in which the engines were requested. */
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

/** Waits for all promises, so that every engine has ended before an error is thrown. */
async function allSettled<T>(running: readonly Promise<T>[]): Promise<T[]> {
  await Promise.allSettled(running);
  return Promise.all(running);
}

async function checkOne(
  visitor: Visitor,
  server: CheckServer,
  { description }: Subject,
  withCompiled: boolean,
  isCareful: boolean,
  { without, exempt }: CheckOptions,
): Promise<{ readonly results: RuleResult[]; readonly isLost: boolean }> {
  const { tag } = description;
  const query = new URLSearchParams({ tag, visitor: visitor.id, ...(isCareful && { careful: '' }) });
  const outcome = await visitor.outcome(`${server.base}page?${query}`);
  // Findings before the page was lost are kept.
  if (!('results' in outcome)) {
    const known = visitor.known?.results ?? [];
    return { results: [...known, { rule: 'page-runs', outcome: 'fails', failures: [outcome] }], isLost: true };
  }
  const results = [...outcome.results];
  if (!withCompiled) return { results, isLost: false };
  const address = `${server.base}page?${query}`;
  query.set('compiled', '');
  const compiled = await visitor.outcome(`${server.base}page?${query}`);
  if ('results' in compiled) results.push(...compiled.results);
  const reason = exemptions(description, exempt)['compiled-alike'];
  if (reason !== undefined) results.push({ rule: 'compiled-alike', outcome: 'exempt', reason });
  else if (!without.includes('compiled-alike')) {
    let alike = compareDigests([outcome.digest], [compiled]);
    if (alike.outcome === 'fails' && 'results' in compiled) {
      // Both are looked at again, since some change without input.
      const written = await visitor.outcome(address);
      const again = await visitor.outcome(`${server.base}page?${query}`);
      if ('results' in written) alike = compareDigests([outcome.digest, written.digest], [compiled, again]);
    }
    results.push(alike);
  }
  return { results, isLost: !('results' in compiled) };
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
        ? { rule, outcome: 'passes' }
        : {
            rule,
            outcome: 'fails',
            failures: [
              {
                did: 'built it',
                expected: `at most ${limit} bytes (brotli), shared files included`,
                seen: `${weight} bytes`,
                fix: 'Run npx eltrix build: it lists the largest modules.',
              },
            ],
          },
    );
  }
  return results;
}
