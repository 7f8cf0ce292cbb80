/** A run as one self-contained HTML page: failures with their pictures, then all tests. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, relative } from 'node:path';
import { escaped, htmlPage } from '../../project/report-page.ts';
import type { Attachment } from './stored/pictures.ts';
import type { TreeEvent } from './tree.ts';

type Start = Extract<TreeEvent, { type: 'start' }>;
type End = Extract<TreeEvent, { type: 'end' }>;

interface Entry {
  readonly start: Start;
  readonly children: Entry[];
  readonly parent: Entry | undefined;
  end: End | undefined;
}

export class HtmlReport {
  readonly #entries = new Map<string, Entry>();
  readonly #top: Entry[] = [];

  constructor(
    readonly root: string,
    readonly file: string,
  ) {}

  take(event: TreeEvent): void {
    if (event.type === 'start') {
      const parent = event.parent === null ? undefined : this.#entries.get(event.parent);
      const entry: Entry = { start: event, children: [], parent, end: undefined };
      this.#entries.set(event.id, entry);
      (parent?.children ?? this.#top).push(entry);
    } else if (event.type === 'end') {
      const entry = this.#entries.get(event.id);
      if (entry) entry.end ??= event;
    }
  }

  write(): void {
    mkdirSync(dirname(this.file), { recursive: true });
    writeFileSync(this.file, this.#page());
  }

  #page(): string {
    const tests = [...this.#entries.values()].filter(({ start }) => !start.suite);
    const failed = [...this.#entries.values()].filter(entry => failsItself(entry));
    const figures = (['passed', 'failed', 'skipped', 'todo'] as const)
      .map(outcome => [outcome, tests.filter(entry => outcomeOf(entry) === outcome).length] as const)
      .filter(([outcome, count]) => count > 0 || outcome === 'passed' || outcome === 'failed')
      .map(([outcome, count]) => `<b>${count}</b> ${outcome}`);
    const engines = this.#top.map(({ start }) => start.name);
    return htmlPage({
      title: `Tests: ${failed.length > 0 ? `${failed.length} failed` : 'passed'}`,
      style: `body { max-width: 1080px; }
article pre { margin: 8px 0; padding: 10px 12px; white-space: pre-wrap; overflow-wrap: anywhere; border-radius: 6px; background: var(--paper); font: 12.5px/1.5 ui-monospace, 'DejaVu Sans Mono', monospace; }
article p { margin: 0 0 6px; font-size: 13px; color: var(--muted); }
pre del { color: var(--bad); text-decoration: none; }
pre ins { color: var(--good); text-decoration: none; }
figure img { width: auto; max-width: min(100%, 310px); }
.row figure { max-width: 100%; }
details { margin: 2px 0; }
details details, li { margin-inline-start: 18px; }
ul { margin: 0; padding: 0; list-style: none; }
summary { cursor: pointer; padding: 2px 0; }
li { padding: 2px 0; }
.tests { font-size: 14px; }
.tests small { color: var(--muted); font-variant-numeric: tabular-nums; }
.passed { color: var(--good); } .failed { color: var(--bad); } .skipped, .todo { color: var(--muted); }`,
      body: `<main>
<h1>Tests</h1>
<p class="facts">${figures.join(', ')}, in ${escaped(engines.join(', '))}</p>
${failed.length > 0 ? `<h2>Failures</h2>\n${failed.map(entry => this.#failure(entry)).join('\n')}` : ''}
<h2>All tests</h2>
<div class="tests">${this.#top.map(entry => listed(entry)).join('\n')}</div>
</main>`,
    });
  }

  #failure(entry: Entry): string {
    const { start, end } = entry;
    const { error, attachments = [], diagnostics } = end!;
    const [engine, file, ...path] = [...pathOf(entry), entry].map(({ start }) => start.name);
    const at = start.at ? `${relative(this.root, start.at.path).replaceAll('\\', '/')}:${start.at.line}` : '';
    const name = path.length > 0 ? path.join(' > ') : (file ?? engine ?? '');
    return `<article id="${escaped(start.id)}"><h3>${escaped(name)}</h3>
<p>${escaped([at, engine].filter(Boolean).join(', '))}</p>
<pre>${marked(error!.stack || error!.message)}</pre>
${attachments.length > 0 ? `<div class="row">${attachments.map(picture).join('')}</div>` : ''}
${error!.page ? `<details><summary>The page when it failed</summary><pre>${escaped(error!.page)}</pre></details>` : ''}
${diagnostics.length > 0 ? `<details open><summary>Console</summary><pre>${escaped(diagnostics.join('\n'))}</pre></details>` : ''}
</article>`;
  }
}

function picture({ name, png }: Attachment): string {
  return `<figure><img alt="${escaped(name)}" src="data:image/png;base64,${png}"><figcaption>${escaped(name)}</figcaption></figure>`;
}

/** Colours the lines of a difference. */
function marked(text: string): string {
  const isDifference = /^\+ actual - expected$/m.test(text);
  return text
    .split('\n')
    .map(line => {
      if (isDifference && /^\+ /.test(line)) return `<ins>${escaped(line)}</ins>`;
      if (isDifference && /^- /.test(line)) return `<del>${escaped(line)}</del>`;
      return escaped(line);
    })
    .join('\n');
}

/** Whether an entry itself has failed, not only its children. */
const failsItself = ({ end }: Entry) =>
  end !== undefined &&
  (end.outcome === 'failed' || end.error !== undefined) &&
  end.outcome !== 'todo' &&
  end.error !== undefined &&
  end.error.code !== 'ERR_TEST_FAILURE';

function outcomeOf(entry: Entry): End['outcome'] {
  if (entry.end?.outcome === 'skipped' || entry.end?.outcome === 'todo') return entry.end.outcome;
  const fails =
    !entry.end || entry.end.outcome === 'failed' || entry.children.some(child => outcomeOf(child) === 'failed');
  return fails ? 'failed' : 'passed';
}

function pathOf({ parent }: Entry): Entry[] {
  return parent ? [...pathOf(parent), parent] : [];
}

const signs = { passed: '✓', failed: '✕', skipped: '○', todo: '○' } as const;

function listed(entry: Entry): string {
  const { start, end, children } = entry;
  const outcome = outcomeOf(entry);
  const time =
    !start.suite && end?.milliseconds !== undefined ? ` <small>${Math.round(end.milliseconds)} ms</small>` : '';
  const name = failsItself(entry) ? `<a href="#${escaped(start.id)}">${escaped(start.name)}</a>` : escaped(start.name);
  const line = `<span class="${outcome}" role="img" aria-label="${outcome}">${signs[outcome]}</span> ${name}${time}`;
  if (children.length === 0) return `<ul><li>${line}</li></ul>`;
  return `<details${outcome === 'failed' || !entry.parent ? ' open' : ''}><summary>${line}</summary>${children.map(listed).join('')}</details>`;
}
