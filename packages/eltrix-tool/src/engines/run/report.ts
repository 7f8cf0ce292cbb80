/** Hands the tree to the process in which Node's own runner reports it. */
import { type ChildProcess, fork } from 'node:child_process';
import { toolFile } from '../../project/library.ts';
import type { TreeEvent } from './tree.ts';

export class Report {
  readonly #child: ChildProcess;
  readonly #ready: Promise<void>;
  readonly #ended: Promise<number>;
  #queue: TreeEvent[] = [];

  /** @param reporter one of Node's: `spec`, `tap`, `junit`, `dot`. */
  constructor(reporter: string) {
    // Inside a run of Node's own runner, the child would speak to that one, in its own language.
    const { NODE_TEST_CONTEXT: _, ...env } = process.env;
    this.#child = fork(toolFile('dist/tool/engines/run/mirror.js'), [], {
      execArgv: [`--test-reporter=${reporter}`, '--test-reporter-destination=stdout'],
      env,
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    });
    this.#ready = new Promise(resolve => this.#child.once('message', () => resolve()));
    this.#ended = new Promise(resolve => this.#child.once('exit', code => resolve(code ?? 1)));
  }

  tell(event: TreeEvent): void {
    this.#queue.push(event);
    if (this.#queue.length === 1) setImmediate(() => void this.#send());
  }

  async #send(): Promise<void> {
    await this.#ready;
    const events = this.#queue;
    this.#queue = [];
    if (events.length > 0 && this.#child.connected) this.#child.send(events);
  }

  /** Everything was told: resolves with the exit code of Node's runner. */
  async end(): Promise<number> {
    await new Promise(resolve => setImmediate(resolve));
    await this.#send();
    if (this.#child.connected) this.#child.send('finished');
    return this.#ended;
  }

  kill(): void {
    this.#child.kill('SIGKILL');
  }
}
