/** The counts in the report and the terminal. */
import type { CheckedElement, CheckResult } from '../elements/check.ts';
import type { Failure, RuleResult } from '../page/model.ts';

export interface Failed {
  readonly rule: string;
  readonly engines: readonly string[];
  readonly failure: Failure;
}

/** All findings without duplicates, each with its engines. */
export function failuresOf({ engines }: CheckedElement): Failed[] {
  const found = new Map<string, { rule: string; engines: string[]; failure: Failure }>();
  for (const [engine, results] of Object.entries(engines))
    for (const { rule, failures = [] } of results)
      for (const failure of failures) {
        // Engines word errors differently; action and advice are the same.
        const key = JSON.stringify([rule, failure.did, failure.expected, failure.seen]);
        const known = found.get(key);
        if (known) known.engines.push(engine);
        else found.set(key, { rule, engines: [engine], failure });
      }
  return [...found.values()];
}

/** The number of rules with each outcome, counted for each element and engine. */
export function count({ elements }: Pick<CheckResult, 'elements'>, outcome: RuleResult['outcome']): number {
  const results = elements.flatMap(element => Object.values(element.engines).flat());
  return results.filter(result => result.outcome === outcome).length;
}

/** `12 rules passed, 2 failed (3 findings), 1 exempt`. */
export function verdict(result: Pick<CheckResult, 'elements'>): string {
  const [passed, failed, exempt] = [count(result, 'passes'), count(result, 'fails'), count(result, 'exempt')];
  const findings = result.elements.reduce((sum, element) => sum + failuresOf(element).length, 0);
  const found = failed === 0 ? '' : ` (${findings} finding${findings === 1 ? '' : 's'})`;
  return `${passed} rules passed, ${failed} failed${found}${exempt === 0 ? '' : `, ${exempt} exempt`}`;
}
