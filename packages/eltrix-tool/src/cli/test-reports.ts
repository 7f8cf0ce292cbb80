/** The reports of `eltrix test`, and their destinations. */
import { resolve } from 'node:path';
import { HtmlReport } from '../engines/run/html-report.ts';
import { recorder } from '../engines/run/recorded.ts';
import { Report } from '../engines/run/report.ts';
import { type LoadedReporter, loadReporters, makeReporter, type ReporterChoice } from '../engines/run/reporters.ts';
import type { TreeEvent } from '../engines/run/tree.ts';
import { ToolError } from '../project/tool-error.ts';

/** The report of one run. */
export interface OngoingReport {
  take(event: TreeEvent): void;
  /** @returns the exit code. */
  end(): Promise<number>;
}

/** Reports of the run as a tree; the others receive the events of Node's runner. */
const ofTrees = ['events', 'html'];

export class TestReports {
  readonly #root: string;
  readonly #choices: readonly ReporterChoice[];
  readonly #loaded: readonly LoadedReporter[];

  private constructor(root: string, choices: readonly ReporterChoice[], loaded: readonly LoadedReporter[]) {
    this.#root = root;
    this.#choices = choices;
    this.#loaded = loaded;
  }

  /** @throws ToolError before anything is started. */
  static async load(root: string, given: readonly ReporterChoice[] = []): Promise<TestReports> {
    const choices = given.some(({ file }) => file === undefined) ? given : [{ name: 'spec' }, ...given];
    for (const { name, file } of choices)
      if (ofTrees.includes(name) && file === undefined) {
        const example = name === 'events' ? 'events=reports/1.jsonl' : 'html=report.html';
        throw new ToolError('report-unknown', `Name a file: --report ${example}.`, undefined, undefined, 2);
      }
    const others = choices.filter(({ name }) => !ofTrees.includes(name));
    return new TestReports(root, choices, await loadReporters(root, others));
  }

  /** Whether the terminal shows a readable report. */
  get forPeople(): boolean {
    return !this.#choices.some(({ name, file }) => file === undefined && /^(?:tap|junit)$|[./]/.test(name));
  }

  get hasPictures(): boolean {
    return this.#choices.some(({ name }) => name === 'html');
  }

  /** @param severalEngines whether failures name their engine. */
  begin(severalEngines: boolean): OngoingReport {
    const root = this.#root;
    const files = (wanted: string) => this.#choices.flatMap(({ name, file }) => (name === wanted ? [file!] : []));
    const pages = files('html').map(file => new HtmlReport(root, resolve(root, file)));
    const takers = [
      ...files('events').map(file => recorder(resolve(root, file))),
      ...pages.map(page => page.take.bind(page)),
    ];
    const report = new Report(
      this.#loaded.map(reporter => makeReporter(root, reporter)),
      severalEngines,
    );
    return {
      take(event) {
        for (const take of takers) take(event);
        report.report(event);
      },
      end() {
        for (const page of pages) page.write();
        return report.end();
      },
    };
  }
}
