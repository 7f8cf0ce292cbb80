/** The state of the page: files and tests, the selected one, and the server's messages. */
import { computed, type Scope, type Signal, signal } from 'eltrix';
import type { TreeError, TreeEvent } from '../../engines/run/tree.ts';
import type { RegisteredTest } from '../../testing/plan.ts';
import type { RunnerMessage, RunRequest } from '../model.ts';

export type Outcome = 'passed' | 'failed' | 'skipped' | 'todo' | 'running' | 'waiting';

export interface TestState {
  readonly outcome: Outcome;
  readonly milliseconds?: number | undefined;
  readonly error?: TreeError | undefined;
  /** Output during the test, by line. */
  readonly printed: readonly string[];
  readonly reason?: string | undefined;
}

/** A file, suite or test. */
export interface TestNode {
  readonly kind: 'file' | 'suite' | 'test';
  readonly name: string;
  readonly file: string;
  /** Starting with the file: names of suites and of the test. */
  readonly path: readonly string[];
  /** The number of a registered test in its file. */
  readonly id: number | undefined;
  readonly parent: TestNode | undefined;
  readonly state: Signal<TestState>;
  readonly children: Signal<readonly TestNode[]>;
}

const notRun: TestState = { outcome: 'waiting', printed: [] };

export const project = signal('');
export const files = signal<readonly TestNode[]>([]);
export const frame = signal('');
export const running = signal(false);
/** Whether the server has ended. */
export const lost = signal(false);
/** The URL's fragment. */
export const chosenAddress = signal(location.hash);

function makeNode(given: Omit<TestNode, 'state' | 'children'>): TestNode {
  return { ...given, state: signal<TestState>(notRun), children: signal<readonly TestNode[]>([]) };
}

const makeFile = (file: string) =>
  makeNode({ kind: 'file', name: file, file, path: [], id: undefined, parent: undefined });

/** Its own outcome, or the worst of its children. */
export function outcomeOf(node: TestNode): Outcome {
  const own = node.state.get().outcome;
  const children = node.children.get();
  if (children.length === 0 || own === 'failed') return own;
  const outcomes = children.map(outcomeOf);
  for (const outcome of ['running', 'failed', 'waiting', 'passed'] as const)
    if (outcomes.includes(outcome)) return outcome;
  return outcomes[0]!;
}

function* testsOf(node: TestNode): Generator<TestNode> {
  if (node.kind === 'test') yield node;
  else for (const child of node.children.get()) yield* testsOf(child);
}

/** The number of tests with each outcome. */
export const counts = computed(() => {
  const found: Record<Outcome, number> = { passed: 0, failed: 0, skipped: 0, todo: 0, running: 0, waiting: 0 };
  for (const file of files.get()) {
    const tests = [...testsOf(file)];
    for (const test of tests) found[outcomeOf(test)]++;
    if (tests.length === 0 && outcomeOf(file) === 'failed') found.failed++;
  }
  return found;
});

export function addressOf({ file, path }: TestNode): string {
  const tests = path.map(name => encodeURIComponent(name)).join('/');
  return `#/${file.split('/').map(encodeURIComponent).join('/')}${tests ? `?${tests}` : ''}`;
}

function* all(nodes: readonly TestNode[]): Generator<TestNode> {
  for (const node of nodes) {
    yield node;
    yield* all(node.children.get());
  }
}

/** The node that the URL names, if it exists. */
export const chosen = computed(() => {
  const address = chosenAddress.get();
  for (const node of all(files.get())) if (addressOf(node) === address) return node;
  return undefined;
});

/** The nodes of a file's run, by the ids in the server's events. */
const byEvent = new Map<string, TestNode>();

function childNamed(parent: TestNode, kind: 'suite' | 'test', name: string, id?: number): TestNode {
  const children = parent.children.peek();
  const known = children.find(child => child.kind === kind && child.name === name && child.id === id);
  if (known) return known;
  const made = makeNode({ kind, name, file: parent.file, path: [...parent.path, name], id, parent });
  parent.children.set([...children, made]);
  return made;
}

/** The tree of a file in source order; existing nodes are kept. */
function register(file: TestNode, tests: readonly RegisteredTest[]): void {
  const wanted = new Set<TestNode>();
  for (const { id, path } of tests) {
    let at = file;
    for (const name of path.slice(0, -1)) wanted.add((at = childNamed(at, 'suite', name)));
    wanted.add(childNamed(at, 'test', path.at(-1)!, id));
  }
  const prune = (node: TestNode) => {
    const children = node.children.peek().filter(child => wanted.has(child));
    if (children.length !== node.children.peek().length) node.children.set(children);
    for (const child of children) if (child.kind !== 'test') prune(child);
  };
  prune(file);
}

function heard(file: TestNode, event: TreeEvent): void {
  if (event.type === 'note') return;
  if (event.type === 'start') {
    const parent = event.parent === null ? undefined : byEvent.get(event.parent);
    let node = file;
    if (parent) {
      const number = Number(event.id.slice(event.id.lastIndexOf('/') + 1));
      const known = parent.children.peek().find(child => child.kind === 'test' && child.id === number);
      node = event.suite ? childNamed(parent, 'suite', event.name) : (known ?? childNamed(parent, 'test', event.name));
    }
    byEvent.set(event.id, node);
    if (node.kind === 'test') node.children.set([]);
    node.state.set({ outcome: 'running', printed: [] });
    return;
  }
  const { outcome, milliseconds, error, diagnostics: printed, reason } = event;
  // A suite with failed tests shows that through them.
  const own = error?.code === 'ERR_TEST_FAILURE' ? undefined : error;
  const node = byEvent.get(event.id);
  node?.state.set({
    outcome: node.kind === 'test' || own ? (own && outcome === 'passed' ? 'failed' : outcome) : 'passed',
    milliseconds,
    error: own,
    printed,
    reason,
  });
}

function take(message: RunnerMessage): void {
  const fileOf = (name: string) => files.peek().find(({ file }) => file === name);
  switch (message.type) {
    case 'project': {
      project.set(message.project);
      files.set(message.files.map(name => fileOf(name) ?? makeFile(name)));
      break;
    }
    case 'frame':
      frame.set(message.address);
      break;
    case 'running':
      running.set(message.running);
      break;
    case 'again': {
      const file = fileOf(message.file);
      if (file) for (const node of all([file])) node.state.set(notRun);
      break;
    }
    case 'registered': {
      const file = fileOf(message.file);
      if (file) register(file, message.tests);
      break;
    }
    case 'event': {
      const file = fileOf(message.file);
      if (file) heard(file, message.event);
    }
  }
}

/** Asks the server to run the tests below some nodes; no node stops the run. */
export async function run(...nodes: readonly TestNode[]): Promise<void> {
  const request: RunRequest = nodes.map(node => ({
    file: node.file,
    ...(node.kind !== 'file' && { tests: idsOf(node) }),
  }));
  for (const node of nodes) for (const inner of all([node])) inner.state.set(notRun);
  await fetch('run', { method: 'POST', body: JSON.stringify(request) }).catch(() => lost.set(true));
}

/** A subtest runs with its parent test. */
function idsOf(node: TestNode): number[] {
  if (node.kind === 'test') return node.id === undefined ? idsOf(node.parent!) : [node.id];
  return [...testsOf(node)].flatMap(({ id }) => (id === undefined ? [] : [id]));
}

/** Observes the URL and the server while the page's element is connected. */
export function begin(scope: Scope): void {
  scope.on(window, 'hashchange', () => chosenAddress.set(location.hash));
  const source = new EventSource('events');
  scope.use(() => source.close());
  source.addEventListener('open', () => {
    // The server may have been restarted.
    if (lost.peek()) location.reload();
  });
  source.addEventListener('error', () => lost.set(true));
  source.addEventListener('message', ({ data }) => take(JSON.parse(data as string) as RunnerMessage));
}
