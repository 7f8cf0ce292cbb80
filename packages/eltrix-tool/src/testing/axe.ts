/** The report of axe-core's findings. */

interface NodeResult {
  readonly target: readonly (string | readonly string[])[];
  readonly html: string;
  readonly failureSummary?: string;
}

export interface Violation {
  readonly id: string;
  readonly impact: string | null;
  readonly help: string;
  readonly nodes: readonly NodeResult[];
}

/** axe-core's global, as far as it is used. */
export interface Axe {
  run(target: Element | Document, options: object): Promise<{ readonly violations: readonly Violation[] }>;
}

/** Options that skip rules, and only report violations. */
export function without(rules: readonly string[]): object {
  return { resultTypes: ['violations'], rules: Object.fromEntries(rules.map(rule => [rule, { enabled: false }])) };
}

/** Selectors through shadow roots and frames, joined by ` >>> `. */
export function pathOf({ target }: Pick<NodeResult, 'target'>): string {
  return target.flat().join(' >>> ');
}

/** The advice, in one line. */
export function fixOf(
  { failureSummary }: Pick<NodeResult, 'failureSummary'>,
  { help }: Pick<Violation, 'help'>,
): string {
  return (failureSummary ?? help)
    .replace(/^Fix (?:any|all) of the following:\s*/gm, '')
    .replace(/\s+/g, ' ')
    .trim();
}
