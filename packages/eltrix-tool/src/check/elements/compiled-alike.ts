/** The rule that compiled elements show the same as elements as written. */
import { firstDifference } from '../page/first-difference.ts';
import type { Appearance, CheckOutcome, Failure, RuleResult } from '../page/model.ts';

const rule = 'compiled-alike';

/**
 * @param written what the element as written has shown, in one page or several. What differs between them depends on
 *   time, and is not compared.
 * @param compiled the outcomes of the compiled element: one that is alike is enough, since a busy engine may report a
 *   size late.
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
  const shownAt = (all: readonly (readonly Appearance[])[], at: number) =>
    all.map(digest => (digest[at] ? plain(digest[at].shown) : ''));
  for (const [at, { did }] of written[0]!.entries()) {
    const [expected, ...again] = shownAt(written, at);
    const seen = shownAt(digests, at);
    if (expected === undefined || again.some(shown => shown !== expected) || seen.includes(expected)) continue;
    const difference =
      seen[0] === undefined
        ? { expected: 'the same for a while', seen: 'it changes without input' }
        : firstDifference(expected, seen[0])!;
    const fix =
      'Look whether the source depends on class or function names, on toString(), or on the order in which modules run.';
    return { rule, outcome: 'fails', failures: [{ did: `${did} as written and compiled`, ...difference, fix }] };
  }
  return { rule, outcome: 'passes' };
}
