/**
 * A thread that reads sources: it compiles, describes and checks them while the bundler works. In a large project one
 * thread compiles, and another one does the rest.
 */
import { join, resolve } from 'node:path';
import { setImmediate as turn } from 'node:timers/promises';
import { parentPort } from 'node:worker_threads';
import { type CompiledModule, SourceMistake } from '../../compile/compiled-module.ts';
import { Compiler } from '../../compile/compiler.ts';
import { companionFiles } from '../../describe/companions.ts';
import type { ElementDescription } from '../../describe/description.ts';
import { EmittedTexts } from '../../describe/emitted.ts';
import { Descriptions } from '../../describe/model.ts';
import { candidates } from '../../project/candidates.ts';
import { contractsIn, discover, type FoundElement } from '../../project/discover.ts';
import type { Finding } from '../../project/finding.ts';
import { lookAgain, textOf } from '../../project/seen.ts';
import { ToolError } from '../../project/tool-error.ts';
import { checkedSources, factsOf } from '../sources.ts';
import type { Answer, Failure, Question, ReadElements } from './messages.ts';

type Asked<K extends Question['kind']> = Extract<Question, { kind: K }>;

const say = (answer: Answer) => parentPort!.postMessage(answer);

let compiler: Compiler | undefined;
const descriptions = new Descriptions();
let elements: readonly FoundElement[] = [];
let described: readonly ElementDescription[] = [];
/** Findings, as they are found. */
let findings: Promise<readonly Finding[]> = Promise.resolve([]);
/** The last reported findings of a file. */
const reported = new Map<string, CompiledModule | null>();

parentPort!.on('message', async (question: Question) => {
  const { id } = question;
  try {
    say({ kind: 'answer', id, value: await answer(question) });
  } catch (error) {
    say({ kind: 'failure', id, error: failure(error) });
  }
});

function answer(question: Question): unknown {
  switch (question.kind) {
    case 'read':
      return read(question);
    case 'compiler':
      return setCompiler(question);
    case 'compile':
      compiler ??= new Compiler(question.root, { rendered: question.rendered }, true);
      return compiler.compile(question.file, question.code);
    case 'findings':
      return findings;
    case 'companions':
      return companions(question);
  }
}

/** The files to read: those that have changed, or all. */
function freshFiles({ root, source, changed }: Asked<'read' | 'compiler'>): string[] {
  const files = candidates(root, source);
  return changed ? files.filter(file => changed.has(join(root, file))) : files;
}

/** The bundler waits for these modules. A thread that reads as well takes turns, file by file. */
async function setCompiler(question: Asked<'compiler'>): Promise<void> {
  const { root, source, changed, rendered, usage, ahead } = question;
  lookAgain(resolve(root, source), changed);
  compiler = new Compiler(root, { rendered }, true, usage);
  for (const file of ahead ? freshFiles(question) : []) {
    compileAhead(join(root, file));
    await turn();
  }
}

async function read(question: Asked<'read'>): Promise<ReadElements> {
  const { root, source, changed } = question;
  lookAgain(resolve(root, source), changed);
  if (!changed) descriptions.distrust();
  descriptions.outdate();
  for (const file of freshFiles(question)) {
    await readAhead(root, file);
    // A question for another file may be waiting.
    await turn();
  }
  let loaded = false;
  elements = await discover(root, source, () => (loaded = true));
  described = elements.map(element => descriptions.describe(root, element));
  findings = check(root);
  findings.catch(() => {});
  return {
    elements: elements.map(({ tag, file, exportName, contract }) => ({
      tag,
      file,
      exportName,
      extends: contract.extends,
    })),
    loaded,
    unwritten: descriptions.unwritten(elements),
  };
}

/** File by file, since other questions may be waiting. */
async function check(root: string): Promise<readonly Finding[]> {
  const all: Finding[] = [];
  for (const findings of checkedSources(root, described)) {
    all.push(...findings);
    await turn();
  }
  return all;
}

function compileAhead(file: string): void {
  try {
    const code = textOf(file);
    const module = compiler!.compile(file, code);
    // Unchanged files are sent on request.
    if (reported.get(file) === module) return;
    reported.set(file, module);
    say({ kind: 'compiled', file, code, module });
  } catch {
    // Reported to the caller that asks for it.
  }
}

/** The other work that needs a module's syntax tree, while it is cached. */
async function readAhead(root: string, file: string): Promise<void> {
  try {
    const own = (await contractsIn(root, file)) ?? [];
    const described = own.map(({ exportName, contract }) =>
      descriptions.describe(root, { tag: contract.tag, file, exportName, contract }),
    );
    factsOf(root, file, described);
  } catch {
    // Reported to the caller that asks for it.
  }
}

/** The inputs of the last files. */
let lastCompanions: { readonly given: string; readonly described: typeof described } | undefined;

/** @returns undefined if they are unchanged. */
function companions({ root, project, scripts, emitted }: Asked<'companions'>): Record<string, string> | undefined {
  if (emitted) {
    descriptions.infer(new EmittedTexts(emitted));
    described = elements.map(element => descriptions.describe(root, element));
  }
  const given = JSON.stringify([project, scripts]);
  const last = lastCompanions;
  const isSame =
    last?.given === given &&
    last.described.length === described.length &&
    described.every((description, i) => description === last.described[i]);
  const files = isSame ? undefined : companionFiles(described, project, scripts);
  lastCompanions = { given, described };
  return files;
}

function failure(error: unknown): Failure {
  const { name, message, stack } = error as Error;
  if (error instanceof SourceMistake) return { name: 'SourceMistake', message, code: error.code, loc: error.loc };
  if (!(error instanceof ToolError)) return { name, message, stack };
  const { code, position, excerpt, exitCode } = error;
  return { name, message, code, position, excerpt, exitCode };
}
