/** Messages between the page of the check and the tool. Types only. */
import type { ElementDescription } from '../../describe/description.ts';

/** The features that a manifest may omit. */
export type Said = 'slots' | 'events' | 'parts' | 'cssProperties';

export interface CheckSpecimen {
  readonly title: string;
  readonly html: string;
  readonly styles: readonly string[];
  /** The URLs of its module scripts. */
  readonly scripts: readonly string[];
  /** The output of a server for it, or the error; undefined without server rendering. */
  readonly rendered?: string | { readonly error: string };
}

/** The task of a page. */
/** The part of the window to show in a picture, in CSS pixels. */
export interface Shown {
  readonly width: number;
  readonly height: number;
  /** Device pixels per CSS pixel. */
  readonly scale: number;
}

/** What an element shows after an action. */
export interface Appearance {
  /** In words. */
  readonly did: string;
  /** Undefined if it changes without input. */
  readonly shown: string | undefined;
}

export interface CheckTask {
  readonly description: ElementDescription;
  readonly specimens: readonly CheckSpecimen[];
  /** The module that defines the element; if unknown, several to try in order. */
  readonly modules: readonly string[];
  /** The other elements of the project, and their modules. */
  readonly others: Readonly<Record<string, string>>;
  /** The base of relative URLs in specimens, relative to the page. */
  readonly base: string;
  /** Whether this is the compiled file: then only its appearance and the rules that need it are checked. */
  readonly digestOnly: boolean;
  /** Whether the contract comes from a manifest, and is incomplete. */
  readonly foreign: boolean;
  /** Rules to skip. */
  readonly without: readonly string[];
  /** Rules from which the element is exempt, with the reasons. */
  readonly exempt: Readonly<Record<string, string>>;
  /** The features that the manifest omits: rules about them do not apply. */
  readonly unsaid: readonly Said[];
  /** All elements that are checked: a module may define several. */
  readonly tags: readonly string[];
}

/** The result of a rule for an element. */
export interface RuleResult {
  /** The rule's code. */
  readonly rule: string;
  readonly outcome: 'passes' | 'fails' | 'not-applicable' | 'exempt';
  /** Why it does not apply, or why the element is exempt. */
  readonly reason?: string;
  readonly failures?: readonly Failure[];
}

export interface Failure {
  /** The action. */
  readonly did: string;
  readonly expected: string;
  readonly seen: string;
  /** The advice. */
  readonly fix: string;
  /** Pictures for the report, PNG as base64. */
  readonly pictures?: readonly { readonly name: string; readonly png: string }[];
}

export interface CheckOutcome {
  readonly results: readonly RuleResult[];
  /** The element's appearance in each specimen and after each change, to compare with the compiled file. */
  readonly digest: readonly Appearance[];
}
