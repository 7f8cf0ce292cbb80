/** Reporters: Node's own, and modules in Node's format (a function of the events, or a stream). */
import { createWriteStream, mkdirSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { PassThrough, Readable, Transform, type Writable } from 'node:stream';
import { finished, pipeline } from 'node:stream/promises';
import * as ofNode from 'node:test/reporters';
import { pathToFileURL } from 'node:url';
import { ToolError } from '../../project/tool-error.ts';
import { flattened } from './flattened.ts';
import type { ReportEvent } from './tree.ts';

export interface Reporter {
  take(event: ReportEvent): void;
  /** Resolves when everything is written. */
  end(): Promise<void>;
}

/** A reporter and its destination. */
export interface ReporterChoice {
  /** `spec`, `tap`, `dot`, `junit`, or the path of a module. */
  readonly name: string;
  /** A file; stdout unless given. */
  readonly file?: string | undefined;
}

type Events = AsyncIterable<ReportEvent>;
type Made = ((source: Events) => AsyncIterable<string>) | (new () => Transform) | Transform;

const known: Readonly<Record<string, Made>> = {
  spec: ofNode.spec as unknown as new () => Transform,
  tap: ofNode.tap as never,
  dot: ofNode.dot as never,
  junit,
};

/**
 * Node's JUnit reporter escapes the quotes of attributes twice, and writes `]]>` and control characters, which XML 1.0
 * does not allow in text (§2.2 and §2.4).
 */
async function* junit(source: Events): AsyncGenerator<string> {
  for await (const text of ofNode.junit(source as never))
    yield text
      .replaceAll('&amp;quot;', '&quot;')
      .replaceAll(']]>', ']]&gt;')
      .replace(/[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu, '\uFFFD');
}

/** `junit=out.xml`, `spec`, `./mine.js`. */
export function reporterChoice(text: string): ReporterChoice {
  const at = text.indexOf('=');
  return at < 0 ? { name: text } : { name: text.slice(0, at), file: text.slice(at + 1) };
}

/** A loaded reporter that has not started. */
export type LoadedReporter = ReporterChoice & { readonly made: Made };

/** @throws ToolError for an unknown reporter, and for two that write to stdout. */
export async function loadReporters(root: string, choices: readonly ReporterChoice[]): Promise<LoadedReporter[]> {
  const toStdout = choices.filter(({ file }) => file === undefined);
  if (toStdout.length > 1)
    throw misuse(
      `${toStdout.map(({ name }) => `"${name}"`).join(' and ')} would both write to the terminal. Give one a file: --report ${toStdout.at(-1)!.name}=report.txt.`,
    );
  return Promise.all(
    choices.map(async choice => ({ ...choice, made: known[choice.name] ?? (await loaded(root, choice.name)) })),
  );
}

/** Starts a report. */
export function makeReporter(root: string, { name, file, made }: LoadedReporter): Reporter {
  const target = file === undefined ? undefined : openFile(resolve(root, file));
  const input = new PassThrough({ objectMode: true });
  const done = run(made, input, target ?? process.stdout);
  // Reported at the end.
  done.catch(() => {});
  const take = (event: ReportEvent) => void input.write(event);
  const flat = name === 'junit' ? flattened(take) : undefined;
  return {
    take: flat ?? take,
    async end() {
      input.end();
      await done;
      if (target) {
        target.end();
        await finished(target);
      }
    },
  };
}

async function run(made: Made, input: Readable, output: Writable): Promise<void> {
  const isStream = made instanceof Transform || made.prototype instanceof Transform || isTransform(made);
  const readable = isStream
    ? input.pipe(made instanceof Transform ? made : new (made as new () => Transform)())
    : Readable.from((made as (source: Events) => AsyncIterable<string>)(input));
  // stdout stays open for later output.
  await pipeline(readable, output, { end: false });
}

/** Node hides its class behind a function. */
function isTransform(made: unknown): boolean {
  return made === known['spec'];
}

async function loaded(root: string, name: string): Promise<Made> {
  const near = `Reporters are ${Object.keys(known).join(', ')}, or a module: --report ./my-reporter.js.`;
  if (!/[./\\]/.test(name)) throw misuse(`"${name}" is not a reporter. ${near}`);
  try {
    const module = (await import(pathToFileURL(resolve(root, name)).href)) as { default?: Made };
    if (typeof module.default === 'function' || module.default instanceof Transform) return module.default;
  } catch (error) {
    throw misuse(`The reporter ${name} cannot be loaded: ${(error as Error).message}.`);
  }
  throw misuse(
    `The reporter ${name} has no default export. Export a function or a Transform, as for node --test-reporter.`,
  );
}

function openFile(path: string): Writable {
  mkdirSync(dirname(path), { recursive: true });
  return createWriteStream(path);
}

function misuse(message: string): ToolError {
  return new ToolError('report-unknown', message, undefined, undefined, 2);
}
