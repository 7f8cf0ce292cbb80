/** What a browser engine is to the tool: something that can be found, started and driven. */

import type { InputStep } from '../testing/user.ts';

export type EngineName = 'chromium' | 'firefox' | 'webkit';

export interface Viewport {
  readonly width: number;
  readonly height: number;
}

export interface OpenOptions {
  /** 1280 by 800 unless given. */
  readonly viewport?: Viewport;
  /** Whether to note which parts of scripts run. */
  readonly coverage?: boolean;
}

/** A page that is open in an engine. */
export interface Page {
  /** Evaluates an expression in the page, awaits it, and returns its value as JSON would carry it. */
  evaluate<T>(expression: string): Promise<T>;
  /** Goes to another address, and waits for its load event. */
  go(url: string): Promise<void>;
  /** A picture of what is visible, as PNG. */
  screenshot(): Promise<Uint8Array>;
  /** Brings the page to the front, where it has the focus; the others of the session lose it. */
  front(): Promise<void>;
  /** Sends trusted input, as a person would: the page comes to the front for it. */
  input(steps: readonly InputStep[]): Promise<void>;
  /** Resolves, with the reason, when the page is gone without being closed. */
  readonly lost: Promise<string>;
  /** Which parts of the page's scripts have run since it was opened; undefined where the engine does not know. */
  coverage?(): Promise<readonly ScriptCoverage[]>;
  close(): Promise<void>;
}

/** As V8 reports it: functions, each with ranges of offsets and how often they ran. */
export interface ScriptCoverage {
  readonly url: string;
  readonly functions: readonly {
    readonly ranges: readonly { readonly startOffset: number; readonly endOffset: number; readonly count: number }[];
  }[];
}

/** A started engine. */
export interface Session {
  readonly name: EngineName;
  /** As the engine says it, for example `Chromium 140.0`. */
  readonly version: string;
  /** Whether its driver does one thing at a time: a page that hangs holds up the others. */
  readonly takesTurns: boolean;
  /** Opens an address and waits for its load event. */
  open(url: string, options?: OpenOptions): Promise<Page>;
  /** Ends the engine and everything that was started for it. */
  close(): Promise<void>;
}

export interface StartOptions {
  /** Further arguments for the browser, where its driver takes any. */
  readonly args?: readonly string[];
  /** The session is for pictures; others may be unable to take any, see `picturesApart`. */
  readonly pictures?: boolean;
  /** The browser shows a window. */
  readonly window?: boolean;
  /** With the window, developer tools open where the engine allows. */
  readonly developerTools?: boolean;
}

export interface Engine {
  readonly name: EngineName;
  /** How to get it, for people. */
  readonly install: string;
  /** Whether it takes pictures only in a session started for them. */
  readonly picturesApart?: boolean;
  /** Whether it is here. */
  find(): boolean;
  start(options?: StartOptions): Promise<Session>;
}
