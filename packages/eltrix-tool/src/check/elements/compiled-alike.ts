/** The rule that compiled elements show the same as elements as written. */
import type { CheckOutcome, Failure, RuleResult } from '../page/model.ts';

export function compareDigests(
  written: readonly string[],
  compiled: CheckOutcome | Failure,
  specimens: number,
): RuleResult {
  const rule = 'compiled-alike';
  const fix =
    'Look whether the source depends on class or function names, on toString(), or on the order in which modules run.';
  if (!('results' in compiled))
    return { rule, outcome: 'fails', failures: [{ ...compiled, did: 'opened the compiled file in a page' }] };
  // The modules are in other folders of the server, so URLs derived from them may differ.
  const plain = (text = '') => text.replace(/(http:\/\/127\.0\.0\.1:\d+\/\w+\/)(?:parts|compiled|elements)\//g, '$1');
  for (const at of written.keys()) {
    const [text, other] = [plain(written[at]), plain(compiled.digest[at])];
    if (text === other) continue;
    const [left, right] = [text.split('\n'), other.split('\n')];
    const line = left.findIndex((one, index) => one !== right[index]);
    const did =
      at < specimens ? `showed "${left[0]}" as written and compiled` : `set ${left[0]} as written and compiled`;
    const [expected, seen] = [left[line], right[line]].map(text => text?.trim() ?? '(nothing more)') as [
      string,
      string,
    ];
    return { rule, outcome: 'fails', failures: [{ did, expected, seen, fix }] };
  }
  return { rule, outcome: 'passes' };
}
