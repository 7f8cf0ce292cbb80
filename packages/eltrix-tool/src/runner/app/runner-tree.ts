import { contract, each, type Markup, markup, signal, stylesheet } from 'eltrix';
import { baseStyle } from '../../gallery/app/base-style.ts';
import { signs } from './signs.ts';
import { addressOf, chosen, files, outcomeOf, run, type TestNode } from './state.ts';

export class RunnerTree extends contract('runner-tree', {
  about: 'The test files with their suites and tests, to select and to run.',
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: flex; flex-direction: column; min-height: 0; }
      .find { display: flex; gap: 10px; align-items: center; padding: 10px 14px; }
      label { display: inline-flex; gap: 5px; align-items: center; font-size: var(--small); white-space: nowrap; }
      .tree { flex: 1; min-height: 0; overflow: auto; padding: 0 8px 20px; }
      ul ul { padding-inline-start: 14px; }
      .row { display: flex; align-items: center; gap: 2px; border-radius: 6px; }
      .row:hover { background: var(--line); }
      .row a { flex: 1; min-width: 0; display: flex; gap: 7px; padding: 4px 6px; border-radius: 6px; font-size: var(--small); text-decoration: none; overflow-wrap: anywhere; }
      .file > .row a { font-weight: 600; }
      .row a[aria-current] { background: var(--ink); color: var(--paper); }
      .sign { flex: none; width: 1em; text-align: center; }
      .passed .sign { color: var(--good); }
      .failed .sign { color: var(--bad); font-weight: 700; }
      a[aria-current] .sign { color: inherit; }
      .word { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); white-space: nowrap; }
      small { flex: none; margin-inline-start: auto; font-size: 11px; font-variant-numeric: tabular-nums; color: var(--muted); }
      a[aria-current] small { color: inherit; }
      .run { flex: none; width: 26px; height: 26px; padding: 0; border: 0; border-radius: 6px; background: none; font-size: 11px; color: var(--muted); cursor: pointer; }
      .run:hover, .run:focus-visible { background: var(--raised); color: var(--ink); }
      .none { padding: 12px 8px; font-size: var(--small); }
    `,
  ];

  #wanted = signal('');
  #onlyFailed = signal(false);

  view() {
    return markup`
      <div class="find">
        <input class="field" type="search" aria-label="Search tests" placeholder="Search" oninput=${(event: Event) =>
          this.#wanted.set((event.target as HTMLInputElement).value.trim().toLowerCase())}>
        <label><input type="checkbox" onchange=${(event: Event) => this.#onlyFailed.set((event.target as HTMLInputElement).checked)}>Failed only</label>
      </div>
      <div class="tree">
        ${() => this.#branch(files.get())}
        ${() => !files.get().some(node => this.#isShown(node)) && markup`<p class="none quiet">No test matches.</p>`}
      </div>`;
  }

  #isShown(node: TestNode): boolean {
    const children = node.children.get();
    if (children.length > 0 && node.kind !== 'test') return children.some(child => this.#isShown(child));
    const text = `${node.file} ${node.path.join(' ')}`.toLowerCase();
    return (!this.#onlyFailed.get() || outcomeOf(node) === 'failed') && text.includes(this.#wanted.get());
  }

  #branch(nodes: readonly TestNode[]): Markup {
    return markup`<ul>${each(
      () => nodes.filter(node => this.#isShown(node)),
      node => node,
      node => this.#row(node()),
    )}</ul>`;
  }

  #row(node: TestNode): Markup {
    return markup`
      <li class=${node.kind}>
        <div class=${() => `row ${outcomeOf(node)}`}>
          <a href=${addressOf(node)} aria-current=${() => (chosen.get() === node ? 'true' : null)}>
            <span class="sign" aria-hidden="true">${() => signs[outcomeOf(node)]}</span>
            <span><span class="word">${() => outcomeOf(node)}</span> ${node.name}</span>
            <small>${() => timeOf(node)}</small>
          </a>
          <button type="button" class="run" aria-label=${`Run ${node.name}`} title="Run" onclick=${() => void run(node)}>▶</button>
        </div>
        ${() => node.children.get().length > 0 && this.#branch(node.children.get())}
      </li>`;
  }
}

function timeOf(node: TestNode): string {
  const { milliseconds } = node.state.get();
  return node.kind === 'test' && milliseconds !== undefined ? `${Math.round(milliseconds)} ms` : '';
}

RunnerTree.define();

declare global {
  interface HTMLElementTagNameMap {
    'runner-tree': RunnerTree;
  }
}
