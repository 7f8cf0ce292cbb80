/** What the helpers need of the runner: requests to the driver, and a callback when a test ends. */

import type { SnapshotMessage, StoredSnapshots } from './plan.ts';
import { onEnd } from './running.ts';

/** What became of the sources before they ran. */
export interface Form {
  /** Whether elements were compiled first, as a build does it. */
  readonly compiled: boolean;
  /** Whether they run as they are shipped: compiled, with codes in place of messages, and without warnings. */
  readonly production: boolean;
}

export interface Environment extends Form {
  /** `chromium`, `firefox`, `webkit`, `simulated`, or a grid's browser name. */
  readonly engine: string;
  /** The address under which the project's files can be fetched, with a slash at its end. */
  readonly project: string;
}

export interface Host {
  readonly environment: Environment;
  /** Whether `command` can send trusted input. */
  readonly trusted: boolean;
  /** Asks the driver to do something; resolves when it is done. */
  command(name: string, argument: unknown): Promise<unknown>;
  /** Loads axe-core into the page. */
  loadAxe(): Promise<unknown>;
  /** Stored snapshots, where a tool keeps them. */
  readonly stored?: StoredSnapshots & {
    /** The name of the running test's next snapshot; undefined outside of tests. */
    nextKey(): string | undefined;
    report(message: SnapshotMessage): unknown;
  };
  /** Called with the nodes that a test puts on the page, where they are inspected afterwards. */
  readonly staged?: (box: Element) => void;
  /** Calls a function when the running test has ended. */
  onEnd(fn: () => unknown): void;
}

const key = Symbol.for('eltrix.testing.1');
const page = globalThis as unknown as Record<symbol, Host | undefined>;

export function setHost(given: Omit<Host, 'onEnd'> & Partial<Pick<Host, 'onEnd'>>): void {
  page[key] = { onEnd, ...given };
}

/** @throws Error where nothing runs tests. */
export function host(): Host {
  const present = page[key];
  if (!present) {
    throw new Error(
      '(no-runner): This runs in a test. Start it with `npx eltrix test`, or with `node --test --import eltrix/testing/simulated`.',
    );
  }
  return present;
}

/** Where the test runs. */
export const environment: Environment = {
  get engine() {
    return host().environment.engine;
  },
  get compiled() {
    return host().environment.compiled;
  },
  get production() {
    return host().environment.production;
  },
  get project() {
    return host().environment.project;
  },
};

/**
 * Calls a function when the running test has ended, passed or failed.
 * @example const server = start(); atEnd(() => server.close());
 */
export function atEnd(fn: () => unknown): void {
  host().onEnd(fn);
}
