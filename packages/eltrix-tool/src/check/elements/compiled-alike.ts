/** The rule that compiled elements show the same as elements as written. */
import { firstDifference } from '../page/first-difference.ts';
import type { Appearance, CheckOutcome, Failure, RuleResult } from '../page/model.ts';

const rule = 'compiled-alike';

/**
 * @param written what the element as written has shown, in one page or several.
 * @param compiled the outcomes of the compiled element. What differs between pages of one kind is not compared: it
 *   depends on time, or a busy engine has reported a size late.
 */
export function compareDigests(
  written: readonly (readonly Appearance[])[],
  compiled: readonly (CheckOutcome | Failure)[],
): RuleResult {
  const digests: (readonly Appearance[])[] = [];
  for (const outcome of compiled) {
    if ('results' in outcome) digests.push(outcome.digest);
    else return { rule, outcome: 'fails', failures: [{ ...outcome, did: 'opened the compiled file in a page' }] };
  }
  // The modules are in other folders of the server, so URLs derived from them may differ.
  const plain = (text?: string) =>
    text?.replace(/(http:\/\/127\.0\.0\.1:\d+\/\w+\/)(?:parts|compiled|elements)\//g, '$1');
  /** What all pages have shown; undefined if they differ. */
  const same = (all: readonly (readonly Appearance[])[], at: number) => {
    const [first, ...others] = all.map(digest => (digest[at] ? plain(digest[at].shown) : ''));
    return others.every(other => other === first) ? first : undefined;
  };
  for (const [at, { did }] of written[0]!.entries()) {
    const [expected, seen] = [same(written, at), same(digests, at)];
    const difference = expected === undefined || seen === undefined ? undefined : firstDifference(expected, seen);
    if (!difference) continue;
    const fix =
      'Look whether the source depends on class or function names, on toString(), or on the order in which modules run.';
    return { rule, outcome: 'fails', failures: [{ did: `${did} as written and compiled`, ...difference, fix }] };
  }
  return { rule, outcome: 'passes' };
}
