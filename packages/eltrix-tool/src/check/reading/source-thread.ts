/** A thread that reads sources, and the questions that wait for its answers. */
import { Worker } from 'node:worker_threads';
import { SourceMistake } from '../../compile/compiled-module.ts';
import { toolFile } from '../../project/library.ts';
import { ToolError } from '../../project/tool-error.ts';
import { withoutCode } from '../../project/without-code.ts';
import type { Answer, Failure, Question, Unasked } from './messages.ts';

interface Waiting {
  resolve(value: never): void;
  reject(error: Error): void;
}

/** Starts with the first question, or earlier on request; once more if it has ended. */
export class SourceThread {
  #worker: Worker | undefined;
  readonly #waiting = new Map<number, Waiting>();
  readonly #compiled: (module: Extract<Answer, { kind: 'compiled' }>) => void;
  #asked = 0;

  /** @param compiled receives modules compiled in advance. */
  constructor(compiled: (module: Extract<Answer, { kind: 'compiled' }>) => void) {
    this.#compiled = compiled;
  }

  ask<T>(question: Unasked<Question>): Promise<T> {
    const id = ++this.#asked;
    return new Promise<T>((resolve, reject) => {
      this.#waiting.set(id, { resolve, reject });
      this.start().postMessage({ ...question, id });
    });
  }

  start(): Worker {
    if (this.#worker) return this.#worker;
    // Syntax trees are many objects with a short life.
    const resourceLimits = { maxYoungGenerationSizeMb: 32 };
    const worker = new Worker(toolFile('dist/tool/check/reading/thread.js'), { resourceLimits });
    worker.on('message', (answer: Answer) => this.#hear(answer));
    const gone = (error: Error) => {
      if (this.#worker === worker) this.#worker = undefined;
      for (const { reject } of this.#waiting.values()) reject(error);
      this.#waiting.clear();
    };
    worker.on('error', gone);
    worker.on('exit', code => gone(new Error(`A thread that reads the sources ended (exit code ${code}).`)));
    return (this.#worker = worker);
  }

  #hear(answer: Answer): void {
    if (answer.kind === 'compiled') return this.#compiled(answer);
    const waiting = this.#waiting.get(answer.id)!;
    this.#waiting.delete(answer.id);
    if (answer.kind === 'answer') waiting.resolve(answer.value as never);
    else waiting.reject(errorOf(answer.error));
  }
}

function errorOf({ name, message, stack, code, position, excerpt, exitCode, loc }: Failure): Error {
  if (loc) return new SourceMistake(code!, withoutCode(message), loc);
  if (name === 'ToolError') return new ToolError(code!, message, position, excerpt, exitCode);
  return Object.assign(new Error(message), { name, ...(stack === undefined ? {} : { stack }) });
}
