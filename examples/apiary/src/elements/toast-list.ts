import { contract, each, live, markup, stylesheet } from 'eltrix';
import { entering, leaving } from 'eltrix/views';

interface Toast {
  readonly id: number;
  readonly text: string;
  readonly action: string;
  readonly run: (() => void) | undefined;
}

const below = { transform: 'translateY(12px)' };

/** Short messages at the lower edge of the page, each for some seconds. */
export class ToastList extends contract('toast-list', {
  about: 'Short messages at the lower edge of the page, with one thing to do about each.',
  properties: { toasts: live<Toast[]>(() => [], { about: 'The messages that show, the latest last.' }) },
  parts: { toast: 'One message.' },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; }
      div { position: fixed; inset: auto 0 20px; display: grid; gap: 8px; justify-items: center; width: auto; margin: 0; padding: 0 16px; border: 0; background: transparent; pointer-events: none; overflow: visible; }
      p { display: flex; gap: 16px; align-items: center; margin: 0; padding: 10px 16px; border-radius: 10px; background: light-dark(#2a261d, #efe9da); color: light-dark(#fffaf0, #201a0c); box-shadow: 0 6px 24px rgb(0 0 0 / 0.25); pointer-events: auto; }
      button { padding: 2px 10px; border: 1px solid currentColor; border-radius: 6px; background: transparent; color: inherit; font: inherit; cursor: pointer; }
      button:focus-visible { outline: 2px solid light-dark(#f3c14b, #7a4a00); outline-offset: 2px; }
    `,
  ];

  #last = 0;

  view() {
    return markup`<div role="status">${each(
      () => this.toasts,
      ({ id }) => id,
      toast =>
        markup`<p part="toast" ${entering([below, {}])} ${leaving([{}, { ...below, opacity: 0 }])}>${() => toast().text}${() =>
          toast().run &&
          markup`<button type="button" onclick=${() => {
            toast().run!();
            this.#remove(toast().id);
          }}>${() => toast().action}</button>`}</p>`,
    )}</div>`;
  }

  /** Shows a message, with something to do about it. */
  show(text: string, action = '', run?: () => void, seconds = 6): void {
    const id = ++this.#last;
    this.toasts.push({ id, text, action, run });
    setTimeout(() => this.#remove(id), seconds * 1000);
  }

  #remove(id: number): void {
    this.toasts = this.toasts.filter(toast => toast.id !== id);
  }
}

ToastList.define();

declare global {
  interface HTMLElementTagNameMap {
    'toast-list': ToastList;
  }
}
