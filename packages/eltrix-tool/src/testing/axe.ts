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

/** The advice, in one line. axe-core lists what has to hold, and separately what would be enough. */
export function fixOf(
  { failureSummary }: Pick<NodeResult, 'failureSummary'>,
  { help }: Pick<Violation, 'help'>,
): string {
  const parts = (failureSummary ?? help).split(/^Fix (any|all) of the following:\s*/m);
  const lines = (text: string) => text.split('\n').flatMap(line => line.trim() || []);
  const advice = [lines(parts[0]!).join(' ')];
  for (let at = 1; at < parts.length; at += 2) {
    const list = lines(parts[at + 1]!);
    advice.push((parts[at] === 'any' && list.length > 1 ? 'One of these has to change: ' : '') + list.join('; '));
  }
  return advice.filter(Boolean).join('. ');
}
