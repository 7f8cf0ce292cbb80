/** The runner's services for the helpers: requests to the driver, and callbacks at the end of a test. */

import type { SnapshotMessage, StoredSnapshots } from './plan.ts';
import { onEnd } from './running.ts';

/** How the sources were compiled. */
export interface Form {
  /** Whether elements are compiled, as in a build. */
  readonly compiled: boolean;
  /** Whether they are compiled for production: with codes instead of messages, and without warnings. */
  readonly production: boolean;
}

export interface Environment extends Form {
  /** `chromium`, `firefox`, `webkit`, `simulated`, or a grid's browser name. */
  readonly engine: string;
  /** The URL of the project's files, with a final slash. */
  readonly project: string;
}

export interface Host {
  readonly environment: Environment;
  /** Whether `command` can send trusted input. */
  readonly trusted: boolean;
  /** Sends a command to the driver; resolves when it is done. */
  command(name: string, argument: unknown): Promise<unknown>;
  /** Loads axe-core into the page. */
  loadAxe(): Promise<unknown>;
  /** Stored snapshots, if a tool keeps them. */
  readonly stored?: StoredSnapshots & {
    /** The name of the running test's next snapshot; undefined outside tests. */
    nextKey(): string | undefined;
    report(message: SnapshotMessage): unknown;
  };
  /** Called with the nodes that a test adds to the page, where they can be inspected afterwards. */
  readonly staged?: (box: Element) => void;
  /** Calls a function when the running test has ended. */
  onEnd(fn: () => unknown): void;
}

const key = Symbol.for('eltrix.testing.1');
const page = globalThis as unknown as Record<symbol, Host | undefined>;

export function setHost(given: Omit<Host, 'onEnd'> & Partial<Pick<Host, 'onEnd'>>): void {
  page[key] = { onEnd, ...given };
}

/** @throws Error without a test runner. */
export function host(): Host {
  const present = page[key];
  if (!present) {
    throw new Error(
      '(no-runner): This runs in a test. Start it with `npx eltrix test`, or with `node --test --import eltrix/testing/simulated`.',
    );
  }
  return present;
}

/** The environment of the test. */
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
