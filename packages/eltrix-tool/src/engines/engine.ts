/** The interface of a browser engine: to find, start and drive it. */

import type { InputStep } from '../testing/user.ts';

export type EngineName = 'chromium' | 'firefox' | 'webkit';

export interface Viewport {
  readonly width: number;
  readonly height: number;
}

export interface OpenOptions {
  /** 1280 by 800 unless given. */
  readonly viewport?: Viewport;
  /** Whether to record which parts of scripts run. */
  readonly coverage?: boolean;
  /** Whether it is the page in front, with the focus. If the session has `oneInFront`, one such page is open at a time. */
  readonly inFront?: boolean;
}

/** An open page. */
export interface Page {
  /** Evaluates an expression in the page, awaits it, and returns its value as JSON. */
  evaluate<T>(expression: string): Promise<T>;
  /** Navigates to a URL, and waits for its load event. */
  go(url: string): Promise<void>;
  /** A picture of the viewport, as PNG. */
  screenshot(): Promise<Uint8Array>;
  /** Brings the page to the front, where it has the focus; other pages of the session lose it. */
  front(): Promise<void>;
  /** Sends trusted input like a user. The page comes to the front first. */
  input(steps: readonly InputStep[]): Promise<void>;
  /** Resolves with the reason when the page is lost. */
  readonly lost: Promise<string>;
  /** The parts of the page's scripts that have run; undefined if the engine does not record them. */
  coverage?(): Promise<readonly ScriptCoverage[]>;
  /** @param again whether the session's next page may be shown in its tab: nothing of this one would be noticed there. */
  close(again?: boolean): Promise<void>;
}

/** In V8's format: functions, each with ranges of offsets and counts. */
export interface ScriptCoverage {
  readonly url: string;
  readonly functions: readonly {
    readonly ranges: readonly { readonly startOffset: number; readonly endOffset: number; readonly count: number }[];
  }[];
}

/** A started engine. */
export interface Session {
  readonly name: EngineName;
  /** Name and version, for example `Chromium 140.0`. */
  readonly version: string;
  /** Whether its driver handles one command at a time, so that a page that hangs blocks the others. */
  readonly takesTurns: boolean;
  /** Whether only the page in front has the focus, and the events that come with it. */
  readonly oneInFront: boolean;
  /** Opens a URL and waits for its load event. */
  open(url: string, options?: OpenOptions): Promise<Page>;
  /** Opens a blank page ahead, which the next `open` uses, or empties those that wait for it. */
  prepare?(): void;
  /** Ends the engine and all its processes. */
  close(): Promise<void>;
}

export interface StartOptions {
  /** Further arguments for the browser, if its driver supports them. */
  readonly args?: readonly string[];
  /** The session takes pictures; other sessions may be unable to, see `picturesApart`. */
  readonly pictures?: boolean;
  /** Whether the browser shows a window. */
  readonly window?: boolean;
  /** With the window: whether developer tools are open, if the engine allows it. */
  readonly developerTools?: boolean;
}

export interface Engine {
  readonly name: EngineName;
  /** How to install it. */
  readonly install: string;
  /** Whether it only takes pictures in a session started for them. */
  readonly picturesApart?: boolean;
  /** Whether it is installed. */
  find(): boolean;
  start(options?: StartOptions): Promise<Session>;
}
