/** What a browser engine is to the tool: something that can be found, started and driven. */

export type EngineName = 'chromium' | 'firefox' | 'webkit';

export interface Viewport {
  readonly width: number;
  readonly height: number;
}

/** A page that is open in an engine. */
export interface Page {
  /** Evaluates an expression in the page, awaits it, and returns its value as JSON would carry it. */
  evaluate<T>(expression: string): Promise<T>;
  /** A picture of what is visible, as PNG. */
  screenshot(): Promise<Uint8Array>;
  close(): Promise<void>;
}

/** A started engine. */
export interface Session {
  readonly name: EngineName;
  /** As the engine says it, for example `Chromium 140.0`. */
  readonly version: string;
  /** Opens an address and waits for its load event. */
  open(url: string, viewport?: Viewport): Promise<Page>;
  /** Ends the engine and everything that was started for it. */
  close(): Promise<void>;
}

export interface StartOptions {
  /** Further arguments for the browser, where its driver takes any. */
  readonly args?: readonly string[];
}

export interface Engine {
  readonly name: EngineName;
  /** How to get it, for people. */
  readonly install: string;
  /** Whether it is here. */
  find(): boolean;
  start(options?: StartOptions): Promise<Session>;
}
