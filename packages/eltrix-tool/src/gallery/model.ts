/** Messages between the gallery's server, page and frames. Types only. */
import type { ElementDescription } from '../describe/description.ts';
import type { Finding } from '../project/finding.ts';

/** `data.json`: the data for list and overview. */
export interface GalleryData {
  /** The project's name. */
  readonly project: string;
  /** Whether a server sends changes. */
  readonly live: boolean;
  readonly elements: readonly GalleryEntry[];
  /** Findings in specimen files without an element. */
  readonly problems: readonly Finding[];
}

export interface GalleryEntry {
  readonly tag: string;
  /** The folder of its source, relative to the source folder; empty for that folder itself. */
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
  /** In its source and its specimens; a server sends them later. */
  readonly findings: readonly Finding[] | undefined;
  /** Of its built file with everything that it loads; a server sends it later. */
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
  | {
      readonly type: 'changed';
      readonly tags: readonly string[];
      /** When, in milliseconds: modules asked for with `?t=` are not older. */
      readonly time: number;
      /** What they are now, where they are few, and the address of their module. */
      readonly elements: readonly { readonly element: GalleryElement; readonly url: string | undefined }[];
    }
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

/** What a frame begins with. */
export interface FrameGiven {
  readonly element: GalleryElement;
  /** Of the whole project. */
  readonly tags: readonly string[];
  /** Modules are asked for as they were at this time; 0 where nothing was changed. */
  readonly time: number;
}

/** What a frame begins with that waits to take another's place. */
export interface StandbyGiven {
  /** Modules that do not change, which it runs beforehand. */
  readonly lasting: readonly string[];
  /** The element's own module, and the name of its class there. */
  readonly definition: { readonly url: string; readonly exportName: string } | undefined;
}

/** A step down: into the shadow root, or to the child of an index. */
export type Step = 'root' | number;

/** What a frame was like. */
export interface Place {
  readonly changes: Changes;
  readonly circumstances: Circumstances | undefined;
  readonly scroll: readonly [x: number, y: number];
  readonly focus: readonly Step[] | undefined;
  readonly selection: readonly [start: number, end: number] | undefined;
}

/** From the page to a frame. */
export type FrameOrder =
  | { readonly type: 'apply'; readonly changes: Changes; readonly fresh: boolean }
  | { readonly type: 'circumstances'; readonly circumstances: Circumstances }
  | { readonly type: 'outline'; readonly of: { readonly kind: 'slot' | 'part'; readonly name: string } | null }
  | { readonly type: 'audit' }
  /**
   * These elements' modules are other ones now; null: start again in any case. With a standby it sends its place, and stays
   * until the other has taken it.
   */
  | { readonly type: 'again'; readonly tags: readonly string[] | null; readonly standby: boolean }
  /** To a standby: begin, in the other's place. */
  | {
      readonly type: 'go';
      readonly place: Place;
      readonly given: FrameGiven;
      /** Of the element's own module, where that was changed. */
      readonly url: string | undefined;
    };

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
  /** It listens, and shows what there was at a time; 0 for what nothing was changed of. */
  | { readonly type: 'ready'; readonly time: number }
  /** It waits to take another's place. */
  | { readonly type: 'standby' }
  /** It is to be replaced. */
  | { readonly type: 'leaving'; readonly place: Place }
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
