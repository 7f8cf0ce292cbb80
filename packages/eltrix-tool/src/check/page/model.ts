/** Messages between the check's page and the tool. Types only. */
import type { ElementDescription } from '../../describe/description.ts';

/** What a manifest may leave out. */
export type Said = 'slots' | 'events' | 'parts' | 'cssProperties';

export interface CheckSpecimen {
  readonly title: string;
  readonly html: string;
  readonly styles: readonly string[];
  /** Addresses of its module scripts. */
  readonly scripts: readonly string[];
  /** Its HTML as a server renders it, or why it does not; undefined without server rendering. */
  readonly rendered?: string | { readonly error: string };
}

/** What a page is to check. */
export interface CheckTask {
  readonly description: ElementDescription;
  readonly specimens: readonly CheckSpecimen[];
  /** The module that defines it; if unknown, several to try in order. */
  readonly modules: readonly string[];
  /** The other elements of the project, and their modules. */
  readonly others: Readonly<Record<string, string>>;
  /** Where relative addresses in specimens lead, from the page's own. */
  readonly base: string;
  /** It is the compiled file: only the comparison, and the rules that need it. */
  readonly digestOnly: boolean;
  /** The contract is not Eltrix's own: less is known. */
  readonly foreign: boolean;
  /** Rules that are skipped. */
  readonly without: readonly string[];
  /** Rules from which the element is exempt, and why. */
  readonly exempt: Readonly<Record<string, string>>;
  /** What the manifest does not describe: rules about it do not apply. */
  readonly unsaid: readonly Said[];
  /** All elements that are checked: a module may define several. */
  readonly tags: readonly string[];
}

/** How a rule came out for an element. */
export interface RuleResult {
  /** The rule's code. */
  readonly rule: string;
  readonly outcome: 'passes' | 'fails' | 'not-applicable' | 'exempt';
  /** Why it does not apply, or why the element is exempt. */
  readonly reason?: string;
  readonly failures?: readonly Failure[];
}

export interface Failure {
  /** What was done. */
  readonly did: string;
  readonly expected: string;
  readonly seen: string;
  /** What to do about it. */
  readonly fix: string;
  /** Pictures for the report, PNG as base64. */
  readonly pictures?: readonly { readonly name: string; readonly png: string }[];
}

/** What a picture of a specimen is to show of the window, in CSS pixels. */
export interface Shown {
  readonly width: number;
  readonly height: number;
  /** Device pixels in a CSS pixel. */
  readonly scale: number;
}

export interface CheckOutcome {
  readonly results: readonly RuleResult[];
  /** What the element looked like in each specimen and after each change: compared with the compiled file's. */
  readonly digest: readonly string[];
}
