/** What the gallery's server, page and frames tell each other. Types only: it goes into all three. */
import type { ElementDescription } from '../describe/model.ts';
import type { Finding } from '../project/finding.ts';

/** `data.json`: enough for the list and the overview. */
export interface GalleryData {
  /** The project's name. */
  readonly project: string;
  /** Whether a server stands behind it, that tells of changes. */
  readonly live: boolean;
  readonly elements: readonly GalleryEntry[];
  /** What is wrong with specimen files that belong to no element. */
  readonly problems: readonly Finding[];
}

export interface GalleryEntry {
  readonly tag: string;
  /** The folder of its source below the sources' own; empty for that itself. */
  readonly folder: string;
  readonly about: string | undefined;
  readonly specimens: readonly { readonly title: string; readonly slug: string }[];
}

/** `element/<tag>.json`. */
export interface GalleryElement {
  readonly description: ElementDescription;
  /** The specimen file, if there is one. */
  readonly file: string | undefined;
  readonly specimens: readonly GallerySpecimen[];
  readonly problems: readonly Finding[];
  /** What its built file and all that this loads weigh, in bytes of brotli; a server tells it later. */
  readonly size: ElementSize | undefined;
}

export interface ElementSize {
  readonly raw: number;
  readonly brotli: number;
}

export interface GallerySpecimen {
  readonly title: string;
  readonly slug: string;
  readonly html: string;
  readonly styles: readonly string[];
  /** Addresses of its module scripts, from the gallery's base. */
  readonly scripts: readonly string[];
  /** Where relative addresses in it lead, from the gallery's base. */
  readonly base: string;
}

/** What a server sends when files change. */
export type ServerMessage =
  /** The modules of these elements, or of their specimens' scripts, have changed: frames that run them start again. */
  | { readonly type: 'changed'; readonly tags: readonly string[] }
  /** Elements, contracts or specimens are other ones. */
  | { readonly type: 'data'; readonly tags: readonly string[] | undefined }
  /** A source does not parse; null when all do again. */
  | { readonly type: 'problem'; readonly problem: SourceProblem | null };

export interface SourceProblem {
  readonly message: string;
  readonly file: string;
  readonly line: number;
  readonly column: number;
  readonly excerpt: string;
}

/** What the controls have changed of a specimen, by the way they change it. */
export interface Changes {
  /** Attribute to text; null takes it away. */
  readonly attributes: Readonly<Record<string, string | null>>;
  /** Property to JSON, for those without an attribute. */
  readonly properties: Readonly<Record<string, string>>;
  /** Slot to HTML. */
  readonly slots: Readonly<Record<string, string>>;
  readonly cssProperties: Readonly<Record<string, string>>;
  readonly states: Readonly<Record<string, boolean>>;
}

/** How a specimen is looked at. */
export interface Circumstances {
  /** CSS pixels; 0 is all there is. */
  readonly width: number;
  readonly scheme: 'system' | 'light' | 'dark';
  readonly rtl: boolean;
  readonly calm: boolean;
  readonly forced: boolean;
  /** Percent. */
  readonly text: number;
}

/** From the page to a frame. */
export type FrameOrder =
  | { readonly type: 'apply'; readonly changes: Changes; readonly fresh: boolean }
  | { readonly type: 'circumstances'; readonly circumstances: Circumstances }
  | { readonly type: 'outline'; readonly of: { readonly kind: 'slot' | 'part'; readonly name: string } | null }
  | { readonly type: 'audit' }
  /** These elements' modules are other ones now; null: start again in any case. */
  | { readonly type: 'again'; readonly tags: readonly string[] | null };

/** What the element is just now. */
export interface FrameState {
  readonly attributes: Readonly<Record<string, string>>;
  /** Property to JSON; undefined for what JSON cannot say. */
  readonly properties: Readonly<Record<string, string | undefined>>;
  readonly slots: Readonly<Record<string, string>>;
  readonly states: readonly string[];
  /** The whole specimen, as HTML to copy. */
  readonly html: string;
}

export interface AuditResult {
  readonly rule: string;
  readonly impact: string;
  readonly element: string;
  readonly fix: string;
}

/** From a frame to the page. */
export type FrameNews =
  /** It listens. */
  | { readonly type: 'ready' }
  | { readonly type: 'height'; readonly height: number }
  | { readonly type: 'state'; readonly state: FrameState }
  | {
      readonly type: 'event';
      readonly name: string;
      readonly from: string;
      readonly detail: string | undefined;
      readonly declared: boolean;
      readonly cancelled: boolean;
      readonly at: number;
    }
  | { readonly type: 'happened'; readonly entries: readonly Happening[] }
  | { readonly type: 'audited'; readonly findings: readonly AuditResult[] }
  | { readonly type: 'problem'; readonly problem: SourceProblem };

/** One line of the timeline. */
export interface Happening {
  readonly kind: 'life' | 'attribute' | 'update';
  readonly element: string;
  readonly what: string;
  readonly cause: string;
  /** Milliseconds since the frame began. */
  readonly at: number;
}
