/** One benchmark: the same operations in two ways, with what they must have made. */
export interface Operation {
  readonly name: string;
  /** Whether it can be repeated on what it left, without making everything anew; then it is, and more often. */
  readonly repeats?: boolean;
  /** Whether it is small, so that it needs more repetitions to be warm and to be measured. */
  readonly small?: boolean;
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

/** Unlike a timer it is as quick in a page that is behind another. */
function nextTask(): Promise<void> {
  const { port1, port2 } = new MessageChannel();
  return new Promise(resolve => {
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });
}

/** Runs every operation `warm` times unseen and `times` times timed, what repeats and what is small more often. */
export async function time({ operations }: Suite, fewWarm: number, fewTimes: number): Promise<Timing[]> {
  const timings: Timing[] = [];
  for (const operation of operations) {
    const timing: Timing = { name: operation.name, script: [], layout: [], result: '' };
    const { repeats, small } = operation;
    const more = repeats ? 6 : small ? 4 : 1;
    const [warm, times] = [fewWarm * more, fewTimes * more];
    for (let i = -warm; i < times; i++) {
      if (!repeats || i === -warm) operation.before?.();
      void document.body.offsetHeight;
      await nextTask();
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
      const last = i === times - 1;
      if (last) Object.assign(timing, { result: operation.result() });
      if (last || !repeats) operation.after?.();
    }
    timings.push(timing);
  }
  return timings;
}
