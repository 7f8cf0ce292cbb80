import { contract, type Markup, markup, stylesheet } from 'eltrix';
import type { TreeError } from '../../engines/run/tree.ts';
import { baseStyle } from '../../gallery/app/base-style.ts';
import { signs } from './signs.ts';
import { chosen, outcomeOf, run, type TestNode } from './state.ts';

export class RunnerTest extends contract('runner-test', {
  about: 'The selected test: outcome, failure, console output.',
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: block; padding: 18px 22px; overflow: auto; }
      header { display: flex; flex-wrap: wrap; align-items: center; gap: 10px; }
      h2 { flex: 1 1 200px; font-size: 17px; font-weight: 650; letter-spacing: -0.01em; overflow-wrap: anywhere; }
      .where { margin-top: 3px; font-size: var(--small); overflow-wrap: anywhere; }
      .outcome { font-weight: 650; }
      .passed { color: var(--good); }
      .failed { color: var(--bad); }
      h3 { margin: 14px 0 6px; font-size: var(--small); font-weight: 650; }
      pre { overflow: auto; padding: 12px 14px; border-radius: 8px; background: var(--sunken); line-height: 1.55; font-size: 12.5px; white-space: pre-wrap; overflow-wrap: anywhere; }
      .line { display: block; min-height: 1.55em; }
      .actual { color: var(--bad); }
      .expected { color: var(--good); }
      .hit { font-weight: 700; }
      .empty { max-width: 60ch; line-height: 1.6; }
    `,
  ];

  view() {
    return markup`${() => {
      const node = chosen.get();
      if (!node)
        return markup`<p class="empty quiet">Choose a test to see what became of it. The page below shows what ran last.</p>`;
      return this.#shown(node);
    }}`;
  }

  #shown(node: TestNode): Markup {
    return markup`
      <header>
        <h2>${node.path.at(-1) ?? node.file}</h2>
        <span class=${() => `outcome ${outcomeOf(node)}`}>${() => `${signs[outcomeOf(node)]} ${outcomeOf(node)}`}</span>
        <button type="button" class="button" onclick=${() => void run(node)}>Run</button>
      </header>
      <p class="where quiet code">${[node.file, ...node.path.slice(0, -1)].join(' > ')}</p>
      ${() => node.state.get().reason && markup`<p>${node.state.get().reason}</p>`}
      ${() => node.state.get().error && failure(node.state.get().error!)}
      ${() =>
        node.state.get().printed.length > 0 &&
        markup`<h3>Console</h3><pre tabindex="0" role="group" aria-label="Console">${node.state.get().printed.join('\n')}</pre>`}`;
  }
}

/** The message with its difference, the author's lines, and the content of the page. */
function failure({ message, stack, page }: TreeError): Markup {
  const text = stack || message;
  const hasDifference = /^\+ actual - expected$/m.test(text);
  const kind = (line: string) =>
    hasDifference && line.startsWith('+ ')
      ? 'line actual'
      : hasDifference && line.startsWith('- ')
        ? 'line expected'
        : /^\s*>\s+\d+ \|/.test(line)
          ? 'line hit'
          : 'line';
  const lines = text.split('\n').map(line => markup`<span class=${kind(line)}>${line}</span>`);
  return markup`
    <h3>Failure</h3>
    <pre tabindex="0" role="group" aria-label="Failure">${lines}</pre>
    ${page && markup`<h3>The page when it failed</h3><pre tabindex="0" role="group" aria-label="The page when it failed">${page}</pre>`}`;
}

RunnerTest.define();

declare global {
  interface HTMLElementTagNameMap {
    'runner-test': RunnerTest;
  }
}
