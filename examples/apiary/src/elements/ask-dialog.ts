import { contract, event, handle, markup, slot, stylesheet, text } from 'eltrix';

/** A question before something that cannot be missed. */
export class AskDialog extends contract('ask-dialog', {
  about: 'A question in a dialog, with two answers.',
  attributes: {
    question: text({ about: 'What is asked.' }),
    yes: text({ about: 'The label of the button that says yes.' }),
    no: text({ about: 'The label of the button that says no.' }),
  },
  events: { 'ask-answer': event<{ isYes: boolean }>({ about: 'The reader has answered, or closed the dialog.' }) },
  slots: { '': slot('More about the question.') },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; }
      dialog { max-width: min(420px, calc(100vw - 48px)); padding: 20px 22px; border: 1px solid light-dark(#d9cfb8, #4a4538); border-radius: 14px; background: light-dark(#fffdf8, #24221d); color: inherit; }
      dialog::backdrop { background: rgb(30 24 10 / 0.45); }
      h2 { margin: 0 0 8px; font-size: 1.15rem; }
      footer { display: flex; flex-wrap: wrap; gap: 10px; justify-content: end; margin-top: 18px; }
      button { padding: 7px 16px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 8px; background: transparent; color: inherit; font: inherit; cursor: pointer; }
      button[value='yes'] { border-color: light-dark(#7a4a00, #f3c14b); background: light-dark(#7a4a00, #f3c14b); color: light-dark(#fffaf0, #201a0c); }
      button:focus-visible { outline: 2px solid light-dark(#8a5a00, #f3c14b); outline-offset: 2px; }
    `,
  ];

  readonly #dialog = handle<HTMLDialogElement>();

  view() {
    return markup`
      <dialog ${this.#dialog} aria-labelledby="question" onclose=${this.closed}>
        <form method="dialog">
          <h2 id="question">${() => this.question}</h2>
          <slot></slot>
          <footer>
            <button value="no">${() => this.no || 'No'}</button>
            <button value="yes">${() => this.yes || 'Yes'}</button>
          </footer>
        </form>
      </dialog>`;
  }

  /** Opens the dialog; the focus returns to where it was when it closes. */
  open(): void {
    const dialog = this.#dialog.element!;
    dialog.returnValue = '';
    if (!dialog.open) dialog.showModal();
  }

  closed(): void {
    this.emit('ask-answer', { isYes: this.#dialog.element?.returnValue === 'yes' });
  }
}

AskDialog.define();

declare global {
  interface HTMLElementTagNameMap {
    'ask-dialog': AskDialog;
  }
}
