/** Runs test files one after the other, on request; the latest request comes first. */
import { planFor } from '../engines/run/isolate.ts';
import type { TestRuns } from '../engines/run/run.ts';
import type { Sources } from '../engines/run/sources.ts';
import type { RunPlan } from '../testing/plan.ts';
import type { RunnerMessage, RunRequest } from './model.ts';

export class RunQueue {
  readonly #runs: TestRuns;
  readonly #plan: RunPlan;
  readonly #report: (message: RunnerMessage) => void;
  #sources: Promise<Sources>;
  #asked = 0;
  #turn: Promise<unknown> = Promise.resolve();

  constructor(runs: TestRuns, files: readonly string[], plan: RunPlan, report: (message: RunnerMessage) => void) {
    this.#runs = runs;
    this.#plan = plan;
    this.#report = report;
    this.#sources = runs.bundle(files);
  }

  /** Sources have changed. */
  bundle(files: readonly string[]): void {
    this.#sources = this.#sources.catch(() => {}).then(() => this.#runs.bundle(files));
  }

  /** Stops the running file, then runs this one. */
  ask(request: RunRequest): void {
    const asked = ++this.#asked;
    this.#runs.stop();
    this.#turn = this.#turn.then(async () => {
      if (asked !== this.#asked) return;
      this.#report({ type: 'running', running: request.length > 0 });
      this.#runs.resume();
      for (const { file, tests } of request) {
        if (asked !== this.#asked) return;
        await this.#file(file, tests);
      }
      if (asked === this.#asked) this.#report({ type: 'running', running: false });
    });
  }

  async #file(file: string, tests: readonly number[] | undefined): Promise<void> {
    if (!tests) this.#report({ type: 'again', file });
    await this.#runs.file({
      engine: await this.#runs.first(),
      file,
      sources: await this.#sources,
      plan: tests ? planFor(this.#plan, tests) : this.#plan,
      parent: '',
      report: event => this.#report({ type: 'event', file, event }),
      registered: (_, registered) => this.#report({ type: 'registered', file, tests: registered }),
    });
  }
}
