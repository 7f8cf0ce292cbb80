/** Runs failed tests again: a test that passes then is reported as flaky. */
import { type FileOutcome, type FileRun, runFile } from './file-run.ts';
import { planFor } from './isolate.ts';
import type { TreeEvent } from './tree.ts';

type End = Extract<TreeEvent, { type: 'end' }>;

export async function runWithRetries(run: FileRun, times: number): Promise<FileOutcome> {
  /** The outcomes of failed tests, by number; reported after the last try. */
  const held = new Map<number, End>();
  const prefix = `${run.node}/`;
  const testOf = (id: string) => (id.startsWith(prefix) ? Number(id.slice(prefix.length)) : Number.NaN);
  const suites = new Set<string>();
  const outcome = await runFile({
    ...run,
    report(event) {
      if (event.type === 'start' && event.suite) suites.add(event.id);
      const isTest = event.type === 'end' && !suites.has(event.id) && Number.isInteger(testOf(event.id));
      if (isTest && event.outcome === 'failed') held.set(testOf(event.id), event);
      else run.report(event);
    },
  });
  // Subtests run again with their tests.
  const own = new Set(outcome.tests.map(({ id }) => id));
  for (let attempt = 2; attempt <= times + 1; attempt++) {
    const again = [...held.keys()].filter(id => own.has(id));
    if (again.length === 0 || run.stopped?.()) break;
    const next = await runFile({ ...run, plan: planFor(run.plan, again), report: () => {} });
    for (const id of again) {
      if (!next.passed.has(id) || next.failed.has(id)) continue;
      const { error, diagnostics, ...rest } = held.get(id)!;
      held.delete(id);
      outcome.failed.delete(id);
      outcome.passed.add(id);
      const flaky = `flaky: passed at attempt ${attempt}. Before: ${error?.message ?? 'it failed'}`;
      run.report({ ...rest, outcome: 'passed', diagnostics: [...diagnostics, flaky] });
    }
  }
  for (const end of held.values()) run.report(end);
  return outcome;
}
