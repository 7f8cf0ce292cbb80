/** Type errors in markup, from the project's TypeScript, for the saved files. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Vocabulary } from '../check/pages/vocabulary.ts';
import { checkTypes } from '../check/types/check-types.ts';
import type { FoundElement } from '../project/discover.ts';
import type { Finding } from '../project/finding.ts';

export class MarkupTypes {
  #findings: readonly Finding[] = [];
  /** The checked texts. */
  readonly #texts = new Map<string, string>();
  #running: Promise<void> | undefined;
  #isStale = false;

  constructor(readonly root: string) {}

  /** The errors in a text; none if the text is not the checked one. */
  findingsOf(file: string, text: string): readonly Finding[] {
    return this.#texts.get(file) === text ? this.#findings.filter(finding => finding.file === file) : [];
  }

  /** Checks again; concurrent calls are answered by one further check. @throws ToolError without TypeScript. */
  check(out: string, elements: readonly FoundElement[], vocabulary: Vocabulary): Promise<void> {
    this.#isStale = true;
    this.#running ??= this.#run(out, elements, vocabulary).finally(() => {
      this.#running = undefined;
    });
    return this.#running;
  }

  async #run(out: string, elements: readonly FoundElement[], vocabulary: Vocabulary): Promise<void> {
    while (this.#isStale) {
      this.#isStale = false;
      const { findings } = await checkTypes(this.root, out, elements, vocabulary);
      this.#findings = findings;
      this.#texts.clear();
      for (const file of new Set(findings.map(({ file }) => file)))
        this.#texts.set(file, readFileSync(join(this.root, file), 'utf8'));
    }
  }
}
