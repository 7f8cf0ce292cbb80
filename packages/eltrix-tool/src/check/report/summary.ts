/** What the report and the terminal tell of a result, counted in one way. */
import type { CheckedElement, CheckResult } from '../elements/check.ts';
import type { Failure, RuleResult } from '../page/model.ts';

export interface Failed {
  readonly rule: string;
  readonly engines: readonly string[];
  readonly failure: Failure;
}

/** All that fails, each once, with the engines in which it does. */
export function failuresOf({ engines }: CheckedElement): Failed[] {
  const found = new Map<string, { rule: string; engines: string[]; failure: Failure }>();
  for (const [engine, results] of Object.entries(engines))
    for (const { rule, failures = [] } of results)
      for (const failure of failures) {
        // Engines word what they saw differently; what was done, and asked for, is the same.
        const key = JSON.stringify([rule, failure.did, failure.expected, failure.seen]);
        const known = found.get(key);
        if (known) known.engines.push(engine);
        else found.set(key, { rule, engines: [engine], failure });
      }
  return [...found.values()];
}

/** Rules that hold, and so on, counted once for each element and engine. */
export function count({ elements }: Pick<CheckResult, 'elements'>, outcome: RuleResult['outcome']): number {
  const results = elements.flatMap(element => Object.values(element.engines).flat());
  return results.filter(result => result.outcome === outcome).length;
}

/** `12 rules hold, 2 fail (3 findings), 1 is exempt`. */
export function verdict(result: Pick<CheckResult, 'elements'>): string {
  const [holds, fails, exempt] = [count(result, 'holds'), count(result, 'fails'), count(result, 'exempt')];
  const findings = result.elements.reduce((sum, element) => sum + failuresOf(element).length, 0);
  const failing =
    fails === 0
      ? 'none fails'
      : `${fails} fail${fails === 1 ? 's' : ''} (${findings} finding${findings === 1 ? '' : 's'})`;
  return `${holds} rules hold, ${failing}${exempt === 0 ? '' : `, ${exempt} ${exempt === 1 ? 'is' : 'are'} exempt`}`;
}
