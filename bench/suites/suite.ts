/** One benchmark: the same operations in two ways, with what they must have made. */
export interface Operation {
  readonly name: string;
  /** Whether it can be repeated on what it left, without rebuilding everything; then it is, and more often. */
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

/** Runs an operation `warm` times unseen and `times` times timed, what repeats and what is small more often. */
export async function time(operation: Operation, fewWarm: number, fewTimes: number): Promise<Timing> {
  const timing: Timing = { name: operation.name, script: [], layout: [], result: '' };
  const { repeats, small } = operation;
  const more = repeats ? 6 : small ? 4 : 1;
  const [warm, times] = [fewWarm * more, fewTimes * more];
  for (let i = -warm; i < times; i++) {
    if (!repeats || i === -warm) operation.before?.();
    void document.body.offsetHeight;
    await nextTask();
    (globalThis as { gc?: () => void }).gc?.();
    runOnce(operation, i >= 0 ? timing : undefined);
    const last = i === times - 1;
    if (last) Object.assign(timing, { result: operation.result() });
    if (last || !repeats) operation.after?.();
  }
  return timing;
}

/** Runs an operation once, in a page where nothing has run before but what brings it into its state. */
export async function first(operation: Operation): Promise<Timing> {
  const timing: Timing = { name: operation.name, script: [], layout: [], result: '' };
  operation.before?.();
  void document.body.offsetHeight;
  await nextTask();
  runOnce(operation, timing);
  return { ...timing, result: operation.result() };
}

function runOnce(operation: Operation, timing: Timing | undefined): void {
  const start = performance.now();
  operation.run();
  const scripted = performance.now();
  void document.body.offsetHeight;
  const laidOut = performance.now();
  timing?.script.push(scripted - start);
  timing?.layout.push(laidOut - start);
}
