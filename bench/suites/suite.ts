/** One benchmark: the same operations in two ways, with what they must have made. */
export interface Operation {
  readonly name: string;
  /** Whether it is large enough to need few repetitions; small ones are warmed up and repeated more. */
  readonly heavy?: boolean;
  /** Brings the page into the state that the operation starts from; not timed. */
  before?(): void;
  /** What is timed. Everything is shown when it returns. */
  run(): void;
  /** What the page shows afterwards, for comparison between the ways. */
  result(): string;
  /** Back to nothing; not timed. */
  after?(): void;
}

export interface Suite {
  readonly operations: readonly Operation[];
}

export interface Timing {
  readonly name: string;
  /** Milliseconds, one for each repetition. */
  readonly script: number[];
  /** Script and the layout that follows. */
  readonly layout: number[];
  readonly result: string;
}

/** Runs every operation `warm` times unseen and `times` times timed, small ones four times as often. */
export async function time({ operations }: Suite, warmHeavy: number, timesHeavy: number): Promise<Timing[]> {
  const timings: Timing[] = [];
  for (const operation of operations) {
    const timing: Timing = { name: operation.name, script: [], layout: [], result: '' };
    const [warm, times] = operation.heavy ? [warmHeavy, timesHeavy] : [warmHeavy * 4, timesHeavy * 4];
    for (let i = -warm; i < times; i++) {
      operation.before?.();
      void document.body.offsetHeight;
      await new Promise(resolve => setTimeout(resolve));
      (globalThis as { gc?: () => void }).gc?.();
      const start = performance.now();
      operation.run();
      const scripted = performance.now();
      void document.body.offsetHeight;
      const laidOut = performance.now();
      if (i >= 0) {
        timing.script.push(scripted - start);
        timing.layout.push(laidOut - start);
      }
      Object.assign(timing, { result: operation.result() });
      operation.after?.();
    }
    timings.push(timing);
  }
  return timings;
}
