/** The thread that reads sources: it compiles, describes and checks them while the bundler is loaded and works. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setImmediate as turn } from 'node:timers/promises';
import { parentPort } from 'node:worker_threads';
import { type CompiledModule, SourceMistake } from '../../compile/compiled-module.ts';
import { Compiler } from '../../compile/compiler.ts';
import { companionFiles } from '../../describe/companions.ts';
import { describeElement, type ElementDescription } from '../../describe/model.ts';
import { discover, mentions } from '../../project/discover.ts';
import type { Finding } from '../../project/finding.ts';
import { ToolError } from '../../project/tool-error.ts';
import { checkedSources } from '../sources.ts';
import type { Answer, Failure, Question, ReadElements } from './messages.ts';

const say = (answer: Answer) => parentPort!.postMessage(answer);

let compiler: Compiler | undefined;
let described: readonly ElementDescription[] = [];
/** What is wrong with them, as it is being found. */
let findings: Promise<readonly Finding[]> = Promise.resolve([]);
/** What was last said of a file. */
const told = new Map<string, CompiledModule | null>();

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
      return read(question.root, question.source);
    case 'compile':
      compiler ??= new Compiler(question.root, {}, true);
      return compiler.compile(question.file, question.code);
    case 'findings':
      return findings;
    case 'companions':
      return companionFiles(described, question.project, question.scripts);
  }
}

async function read(root: string, source: string): Promise<ReadElements> {
  compiler = new Compiler(root, {}, true);
  for (const file of await mentions(root, source)) {
    compileAhead(join(root, file));
    // Somebody may wait for another one.
    await turn();
  }
  let loaded = false;
  const elements = await discover(root, source, () => (loaded = true));
  described = elements.map(element => describeElement(root, element));
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
  };
}

/** File by file, since somebody may wait for something else. */
async function check(root: string): Promise<readonly Finding[]> {
  const all: Finding[] = [];
  for (const findings of checkedSources(root, described)) {
    all.push(...findings);
    await turn();
  }
  return all;
}

function compileAhead(file: string): void {
  const code = readFileSync(file, 'utf8');
  try {
    const module = compiler!.compile(file, code);
    // What has not changed is sent when it is asked for.
    if (told.get(file) === module) return;
    told.set(file, module);
    say({ kind: 'compiled', file, code, module });
  } catch {
    // Who asks for it is told.
  }
}

function failure(error: unknown): Failure {
  const { name, message, stack } = error as Error;
  if (error instanceof SourceMistake) return { name: 'SourceMistake', message, code: error.code, loc: error.loc };
  if (!(error instanceof ToolError)) return { name, message, stack };
  const { code, position, excerpt, exitCode } = error;
  return { name, message, code, position, excerpt, exitCode };
}
