import { contract, each, handle, integer, markup, type Scope, signal, slot, text } from 'eltrix';
import type { Editor } from '../editor.ts';
import type { Control, FromFrame, FromPage } from '../messages.ts';
import { packed, unpacked } from '../packed.ts';
import sheet from './live-example.css' with { type: 'css' };

interface Source {
  readonly code: string;
  readonly html: string;
}

interface Problem {
  readonly message: string;
  readonly line: number | undefined;
}

let library: Promise<string> | undefined;

export class LiveExample extends contract('live-example', {
  about: 'Code of a guide, what it shows, and an editor for both.',
  attributes: {
    example: integer({ about: 'Its number on the page, for the address.' }),
    size: text({ about: 'The compressed size of the compiled element with all that it loads.' }),
  },
  cssProperties: {
    '--line': 'Colour of lines.',
    '--raised': 'Colour of the board.',
    '--shade': 'Colour of buttons.',
    '--quiet': 'Colour of heads.',
    '--bad': 'Colour of errors.',
  },
  slots: { '': slot('Code blocks, `<pre data-language="ts">` and `<pre data-language="html">`.') },
}) {
  static styleSheets = [sheet];
  readonly #isReady = signal(false);
  readonly #isEdited = signal(false);
  readonly #isEditing = signal(false);
  readonly #controls = signal<readonly Control[]>([]);
  readonly #shown = signal('');
  readonly #events = signal<readonly string[]>([]);
  readonly #problem = signal<Problem | undefined>(undefined);
  readonly frame = handle<HTMLIFrameElement>();
  readonly codeBox = handle<HTMLDivElement>();
  readonly htmlBox = handle<HTMLDivElement>();
  #source: Source = { code: '', html: '' };
  #editors: Editor[] = [];

  view() {
    return markup`
      <div hidden=${() => this.#isEditing.get()}><slot></slot></div>
      <section class="board" aria-label="The example, running" hidden=${() => !this.#isReady.get()}>
        <div class="editor" ${this.codeBox} hidden=${() => !this.#isEditing.get()}></div>
        <div class="editor" ${this.htmlBox} hidden=${() => !this.#isEditing.get()}></div>
        <div class="bar">
          <button type="button" onclick=${this.edit} hidden=${() => this.#isEditing.get()}>Edit</button>
          <button type="button" onclick=${this.reset} hidden=${() => !this.#isEdited.get()}>Undo all changes</button>
          <span>${() => this.size && `Compiled: ${this.size}${this.#isEdited.get() ? ', before your changes' : ''}`}</span>
        </div>
        <iframe ${this.frame} title="Result of the example" sandbox="allow-scripts" loading="lazy"></iframe>
        <p class="error" role="alert" hidden=${() => !this.#problem.get()}>${() => this.#problemText()}</p>
        <div class="controls" role="group" aria-label="Attributes" hidden=${() => this.#controls.get().length === 0}>${each(
          () => this.#controls.get(),
          ({ attribute }) => attribute,
          control => markup`<label>${() => control().attribute} ${this.#field(control)}</label>`,
        )}</div>
        <div hidden=${() => this.#shown.get() === ''}><p class="head">HTML</p><pre>${() => this.#shown.get()}</pre></div>
        <div hidden=${() => this.#events.get().length === 0}><p class="head">Events</p><pre>${() => this.#events.get().join('\n')}</pre></div>
      </section>`;
  }

  #field(control: () => Control) {
    const { attribute, kind, values, text } = control();
    const send = (next: string | null) => this.#send({ type: 'set', attribute, text: next });
    if (kind === 'flag')
      return markup`<input type="checkbox" ${{ checked: () => control().text !== null, onchange: (event: Event) => send((event.target as HTMLInputElement).checked ? '' : null) }}>`;
    if (kind === 'choice')
      return markup`<select ${{ onchange: (event: Event) => send((event.target as HTMLSelectElement).value) }}>${values.map(
        value => markup`<option selected=${value === text}>${value}</option>`,
      )}</select>`;
    return markup`<input ${{ value: () => control().text ?? '', oninput: (event: Event) => send((event.target as HTMLInputElement).value) }}>`;
  }

  #problemText(): string {
    const { message = '', line } = this.#problem.get() ?? {};
    return line === undefined ? message : `Line ${line}: ${message}`;
  }

  connected(scope: Scope) {
    this.#isReady.set(true);
    this.#source = this.#written();
    scope.on(window, 'message', event => {
      if (event.source === this.frame.element?.contentWindow) void this.#heard(event.data as FromFrame);
    });
    void this.#restore();
  }

  disconnected() {
    for (const editor of this.#editors.splice(0)) editor.destroy();
    this.#isEditing.set(false);
  }

  /** The code blocks of the page. */
  #written(): Source {
    const of = (language: string) => this.querySelector(`pre[data-language="${language}"]`)?.textContent ?? '';
    return { code: of('ts'), html: of('html') };
  }

  /** What the address says, if it is about this example. */
  async #restore(): Promise<void> {
    const [, number, state] = /^#live-(\d+)=(.+)$/.exec(location.hash) ?? [];
    if (Number(number) === this.example) {
      const source = await unpacked<Source>(state!).catch(() => undefined);
      if (source) {
        this.#source = source;
        this.#isEdited.set(true);
        this.scrollIntoView({ block: 'start' });
        await this.edit();
      }
    }
    this.#run();
  }

  /** A fresh frame: what ran before leaves nothing behind. */
  #run(): void {
    this.#problem.set(undefined);
    this.#events.set([]);
    const { element } = this.frame;
    // The frame has its own, looser policy: this page allows no code that is typed.
    if (element) element.src = 'live.html';
  }

  #send(message: FromPage): void {
    this.frame.element?.contentWindow?.postMessage(message, '*');
  }

  async #heard(message: FromFrame): Promise<void> {
    switch (message.type) {
      case 'ready': {
        library ??= fetch('live-library.js').then(answer => answer.text());
        this.#send({ type: 'run', library: await library, ...this.#source });
        break;
      }
      case 'shown':
        this.#controls.set(message.controls);
        this.#shown.set(message.html);
        this.frame.element!.style.blockSize = `${Math.min(600, Math.max(48, message.height + 4))}px`;
        break;
      case 'event':
        this.#events.set([...this.#events.get().slice(-9), `${message.name} ${message.detail}`]);
        break;
      case 'error':
        this.#problem.set(message);
    }
  }

  async edit() {
    const { createEditor } = await import('../editor.ts');
    if (!this.isConnected || this.#editors.length > 0) return;
    this.#isEditing.set(true);
    const make = (box: HTMLElement, language: 'ts' | 'html', label: string, text: string) =>
      createEditor(box, { text, language, label, changed: next => this.#changed(language, next) });
    this.#editors = [
      make(this.codeBox.element!, 'ts', 'TypeScript of the example', this.#source.code),
      make(this.htmlBox.element!, 'html', 'HTML of the example', this.#source.html),
    ];
  }

  #later: ReturnType<typeof setTimeout> | undefined;

  #changed(language: 'ts' | 'html', next: string): void {
    this.#source = { ...this.#source, [language === 'ts' ? 'code' : 'html']: next };
    this.#isEdited.set(true);
    clearTimeout(this.#later);
    this.#later = setTimeout(async () => {
      this.#run();
      history.replaceState(null, '', `#live-${this.example}=${await packed(this.#source)}`);
    }, 400);
  }

  reset() {
    for (const editor of this.#editors.splice(0)) editor.destroy();
    this.#isEditing.set(false);
    this.#isEdited.set(false);
    this.#source = this.#written();
    history.replaceState(null, '', location.pathname + location.search);
    this.#run();
  }
}
LiveExample.define();

declare global {
  interface HTMLElementTagNameMap {
    'live-example': LiveExample;
  }
}
