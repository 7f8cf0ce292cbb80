import { contract, flag, markup, type Scope, stylesheet } from 'eltrix';
import { baseStyle } from '../../gallery/app/base-style.ts';
import './runner-test.ts';
import './runner-tree.ts';
import { begin, chosenAddress, counts, files, frame, lost, outcomeOf, project, run, running } from './state.ts';

export class RunnerApp extends contract('runner-app', {
  about: 'The tests of a project as a page: a tree, the selected test, and the frame in which tests run.',
  attributes: { listed: flag({ about: 'Whether the tree is open on a narrow page.' }) },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: grid; grid-template: auto minmax(0, 1fr) / 330px minmax(0, 1fr); height: 100vh; }
      .top { grid-column: 1 / -1; display: flex; flex-wrap: wrap; align-items: center; gap: 8px 14px; padding: 10px 16px; border-bottom: 1px solid var(--line); }
      h1 { font-size: 17px; font-weight: 700; letter-spacing: -0.015em; }
      .counts { flex: 1; display: flex; flex-wrap: wrap; gap: 4px 14px; font-size: var(--small); font-variant-numeric: tabular-nums; }
      .passed b { color: var(--good); }
      .failed b { color: var(--bad); }
      .list { display: flex; flex-direction: column; min-height: 0; border-inline-end: 1px solid var(--line); }
      runner-tree { flex: 1; }
      .content { display: grid; grid-template-rows: minmax(120px, auto) minmax(220px, 1fr); min-height: 0; min-width: 0; }
      runner-test { max-height: 52vh; }
      .page { display: flex; flex-direction: column; min-height: 0; border-top: 1px solid var(--line); background: var(--sunken); }
      .page p { padding: 6px 22px; font-size: 12px; }
      iframe { flex: 1; width: 100%; border: 0; background: #fff; }
      .lost { position: fixed; inset-inline-end: 16px; bottom: 16px; z-index: 3; padding: 8px 14px; border-radius: 8px; background: var(--ink); color: var(--paper); font-size: var(--small); }
      .word { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); white-space: nowrap; }
      .listing { display: none; }
      @media (max-width: 860px) {
        :host { display: block; height: auto; }
        .top { position: sticky; top: 0; z-index: 1; background: var(--paper); }
        .listing { display: inline-block; margin-inline-start: auto; }
        .counts { order: 1; flex-basis: 100%; }
        .list { display: none; border-inline-end: 0; border-bottom: 1px solid var(--line); }
        :host([listed]) .list { display: flex; }
        runner-tree { max-height: 60vh; }
        runner-test { max-height: none; }
        iframe { flex: none; height: 400px; }
      }
    `,
  ];

  view() {
    return markup`
      <header class="top">
        <h1>${() => project.get() || 'Tests'}</h1>
        <p class="counts">
          ${() => (['passed', 'failed', 'running', 'skipped', 'todo', 'waiting'] as const).map(outcome => counts.get()[outcome] > 0 && markup`<span class=${outcome}><b>${counts.get()[outcome]}</b> ${outcome}</span>`)}
        </p>
        <button type="button" class="button listing" aria-expanded=${() => String(this.listed)} onclick=${() => (this.listed = !this.listed)}>Tests</button>
        <button type="button" class="button" disabled=${() => counts.get().failed === 0} onclick=${() => void this.runFailed()}>Run failed</button>
        ${() =>
          running.get()
            ? markup`<button type="button" class="button" onclick=${() => void run()}>Stop</button>`
            : markup`<button type="button" class="button" onclick=${() => void run(...files.peek())}>Run all</button>`}
      </header>
      <nav class="list" aria-label="Tests"><runner-tree></runner-tree></nav>
      <main class="content">
        <runner-test></runner-test>
        <section class="page" aria-label="Page of the tests">
          <p class="quiet">The elements of the last test stay here. <code>user</code> sends synthetic events on this page; <code>npx eltrix test</code> sends trusted ones.</p>
          ${() => frame.get() && markup`<iframe title="Page of the tests" src=${frame.get()}></iframe>`}
        </section>
      </main>
      <p class="word" role="status">${() => !running.get() && counts.get().waiting === 0 && `${counts.get().passed} passed, ${counts.get().failed} failed`}</p>
      ${() => lost.get() && markup`<p class="lost" role="alert">The server has stopped. Start it again: npx eltrix test --open</p>`}`;
  }

  async runFailed(): Promise<void> {
    const failing = files.peek().filter(file => outcomeOf(file) === 'failed');
    await run(...failing);
  }

  connected(scope: Scope): void {
    begin(scope);
    scope.effect(() => {
      const { failed } = counts.get();
      document.title = `${failed > 0 ? `(${failed} failed) ` : ''}Tests · ${project.get()}`;
    });
    scope.effect(() => {
      chosenAddress.get();
      this.listed = false;
    });
  }
}

RunnerApp.define();

declare global {
  interface HTMLElementTagNameMap {
    'runner-app': RunnerApp;
  }
}
