import { contract, each, handle, markup, type Scope, signal, stylesheet } from 'eltrix';
import { autosave, followTabs, type StoreProblem } from 'eltrix/store';
import '../elements/ask-dialog.ts';
import '../elements/ledger-total.ts';
import '../elements/toast-list.ts';
import type { AskDialog } from '../elements/ask-dialog.ts';
import type { ToastList } from '../elements/toast-list.ts';
import { ledger, past } from '../ledger.ts';
import { texts } from '../texts.ts';
import { pageStyle } from './style.ts';

export class LedgerPage extends contract('ledger-page', { about: 'What was filled and sold, with a way back.' }) {
  static styleSheets = [
    pageStyle,
    stylesheet`
      table { width: 100%; border-collapse: collapse; }
      th, td { padding: 8px 10px 8px 0; border-bottom: 1px solid light-dark(#efe8d8, #322e26); text-align: start; }
      .jars { text-align: end; font-variant-numeric: tabular-nums; }
      form, .history { display: flex; flex-wrap: wrap; gap: 10px 14px; align-items: end; }
      label { display: grid; gap: 4px; font-size: 0.9rem; }
      input:not([type='range']) { padding: 6px 9px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 8px; background: transparent; color: inherit; font: inherit; }
      input[name='jars'] { width: 6em; }
      input[type='range'] { width: min(260px, 60vw); accent-color: light-dark(#8a5a00, #f3c14b); }
      .problem { color: light-dark(#8c2a14, #f5b3a3); }
    `,
  ];

  readonly #text = texts(this);
  readonly #problem = signal('');
  readonly #form = handle<HTMLFormElement>();
  readonly #question = handle<AskDialog>();
  readonly #toasts = handle<ToastList>();

  view() {
    return markup`
      <h1>${() => this.#text('ledger-title')}</h1>
      <p class="lead"><ledger-total></ledger-total> ${() => this.#text('ledger-lead')}</p>
      <section class="panel history" aria-label="History">
        <button type="button" class="plain" ${{ disabled: () => !past.canUndo }} onclick=${() => past.undo()}>${() => this.#text('undo')}</button>
        <button type="button" class="plain" ${{ disabled: () => !past.canRedo }} onclick=${() => past.redo()}>${() => this.#text('redo')}</button>
        <button type="button" class="plain" ${{ disabled: () => ledger.state.entries.length === 0 }} onclick=${() => this.#question.element!.open()}>${() => this.#text('clear')}</button>
        <label>${() => this.step()}
          <input type="range" min="0" max=${() => past.get().entries.length - 1} ${{
            value: () => String(past.get().index),
            oninput: (event: Event) => past.jump(Number((event.target as HTMLInputElement).value)),
          }}></label>
      </section>
      <section class="panel" aria-label="Entries">
        <table>
          <thead><tr><th scope="col">${() => this.#text('what')}</th><th scope="col" class="jars">${() => this.#text('jars')}</th><td></td></tr></thead>
          <tbody>${each(
            () => ledger.state.entries,
            ({ id }) => id,
            entry =>
              markup`<tr><td>${() => entry().what}</td><td class="jars">${() => entry().jars}</td><td class="jars"><button type="button" class="plain" aria-label=${() => `${this.#text('remove')} ${entry().what}`} onclick=${() => this.removeEntry(entry().id, entry().what)}>${() => this.#text('remove')}</button></td></tr>`,
          )}</tbody>
        </table>
      </section>
      <section class="panel" aria-label="New entry">
        <form ${this.#form} onsubmit=${this.add}>
          <label>${() => this.#text('what')}<input name="what" required maxlength="60"></label>
          <label>${() => this.#text('jars')}<input name="jars" type="number" required value="12"></label>
          <button type="submit" class="plain">${() => this.#text('add')}</button>
        </form>
        ${() => this.#problem.get() && markup`<p class="problem" role="alert">${() => this.#problem.get()}</p>`}
      </section>
      <ask-dialog ${this.#question} question=${() => this.#text('clear-question')} yes=${() => this.#text('clear-yes')} no=${() => this.#text('clear-no')} onask-answer=${this.answered}>
        <p>${() => this.#text('clear-more')}</p>
      </ask-dialog>
      <toast-list ${this.#toasts}></toast-list>`;
  }

  /** Which step of the history shows, and what was done in it. */
  step(): string {
    const { entries, index } = past.get();
    const label = entries[index]?.label ?? '';
    const did = `did-${label}`;
    const what = did === 'did-begin' || did === 'did-remove' || did === 'did-clear' ? this.#text(did) : label;
    return this.#text('step', { at: index + 1, all: entries.length, what });
  }

  removeEntry(id: number, what: string): void {
    ledger.change('remove', id);
    this.#toasts.element!.show(this.#text('removed', { what }), this.#text('undo'), () => past.undo());
  }

  answered({ detail }: CustomEvent<{ isYes: boolean }>): void {
    if (!detail.isYes) return;
    ledger.change('clear');
    this.#toasts.element!.show(this.#text('cleared'), this.#text('undo'), () => past.undo());
  }

  connected(scope: Scope): void {
    scope.on<CustomEvent<StoreProblem>>(ledger, 'problem', event => {
      event.preventDefault();
      this.#problem.set(event.detail.message);
    });
    const saving = autosave(ledger, { key: 'thistlecombe.ledger' });
    scope.use(() => void saving.stop());
    scope.use(followTabs(ledger, 'thistlecombe'));
  }

  add(event: SubmitEvent): void {
    event.preventDefault();
    const form = this.#form.element!;
    const { what, jars } = Object.fromEntries(new FormData(form)) as Record<string, string>;
    ledger.change('add', what!, Number(jars));
    form.reset();
  }
}

LedgerPage.define();
