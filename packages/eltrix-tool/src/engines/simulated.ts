/** The simulated DOM as an engine: each page is a separate process. */
import { type ChildProcess, fork } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { temporaryFolder } from '../project/held.ts';
import { toolFile } from '../project/library.ts';
import type { PageMessage, PageSettings } from '../testing/page.ts';

export interface SimulatedPage {
  readonly lost: Promise<string>;
  close(): Promise<void>;
}

export class SimulatedEngine {
  readonly version: string;
  readonly #temporary = temporaryFolder('simulated');
  readonly #folder = this.#temporary.folder;
  readonly #children = new Set<ChildProcess>();

  constructor() {
    const { version } = createRequire(import.meta.url)('jsdom/package.json') as { version: string };
    this.version = `the simulated DOM (jsdom ${version})`;
    writeFileSync(join(this.#folder, 'package.json'), '{ "type": "module" }');
  }

  setFiles(files: ReadonlyMap<string, string | Uint8Array>): void {
    for (const [name, text] of files) if (!name.endsWith('.map')) writeFileSync(join(this.#folder, name), text);
  }

  open(module: string, settings: PageSettings, hear: (message: PageMessage) => void): SimulatedPage {
    const child = fork(toolFile('dist/tool/engines/run/simulated-page.js'), [], {
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    this.#children.add(child);
    let closed = false;
    child.on('message', (message: PageMessage | 'ready') => {
      if (message === 'ready') child.send({ module: pathToFileURL(join(this.#folder, module)).href, settings });
      else hear(message);
    });
    const lost = new Promise<string>(resolve => {
      child.once('exit', code => {
        this.#children.delete(child);
        if (!closed) resolve(`the process ended with ${code}`);
      });
    });
    return {
      lost,
      close: () =>
        new Promise(resolve => {
          closed = true;
          if (child.exitCode !== null) return resolve();
          child.once('exit', () => resolve());
          child.kill('SIGKILL');
        }),
    };
  }

  close(): void {
    for (const child of this.#children) child.kill('SIGKILL');
    this.#temporary.remove();
  }
}
