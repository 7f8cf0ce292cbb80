/** `eltrix test --open`: the tests as a page. */
import { hasDisplay } from '../engines/display.ts';
import type { Engine } from '../engines/engine.ts';
import type { RunOptions } from '../engines/run/run.ts';
import { startRunner } from '../runner/serve.ts';
import type { RunPlan } from '../testing/plan.ts';
import { enginesFor } from './engine-choice.ts';
import { complainOf, type Output, paint } from './output.ts';
import { watchSources } from './test-watch.ts';

interface OpenCall {
  readonly root: string;
  /** The output folder, relative to the root. */
  readonly out: string;
  readonly run: Omit<RunOptions, 'places' | 'atOnce' | 'coverage' | 'endless'>;
  readonly plan: RunPlan;
  readonly files: () => Promise<readonly string[]>;
  /** An engine by name; true for the default browser. */
  readonly where: string | true;
  readonly port: number;
  readonly output: Output;
}

/** Serves until the process is stopped. */
export async function open({ root, out, run, plan, files, where, port, output }: OpenCall): Promise<never> {
  const [engine] = where === true ? [] : (enginesFor(where) as Engine[]);
  const runner = await startRunner({ run, plan, files, port });
  output.print(`${paint(output, 'bold', runner.address)}  The tests as a page. Press Ctrl+C to stop.`);
  await show(runner.address, engine, output);
  await watchSources(root, out, changed => void runner.changed(changed).catch(error => complainOf(error, output)));
  return new Promise(() => {});
}

async function show(address: string, engine: Engine | undefined, output: Output): Promise<void> {
  if (!hasDisplay()) return output.print('There is no display here: open the address in a browser.');
  if (!engine) {
    const { default: openAddress } = await import('open');
    // The URL is printed in any case.
    await openAddress(address).catch(() => {});
    return;
  }
  const session = await engine.start({ window: true });
  process.once('exit', () => void session.close());
  await session.open(address);
}
