/** What an example's frame and its page send each other. Types only. */

export interface Control {
  readonly attribute: string;
  readonly kind: string;
  readonly values: readonly string[];
  /** The attribute's text; null if it is missing. */
  readonly text: string | null;
}

export type FromPage =
  | { readonly type: 'run'; readonly library: string; readonly code: string; readonly html: string }
  | { readonly type: 'set'; readonly attribute: string; readonly text: string | null };

export type FromFrame =
  | { readonly type: 'ready' }
  | { readonly type: 'shown'; readonly html: string; readonly controls: readonly Control[]; readonly height: number }
  | { readonly type: 'event'; readonly name: string; readonly detail: string }
  | { readonly type: 'error'; readonly message: string; readonly line: number | undefined };
