import { contract, data, event, flag, markup, stylesheet, text } from 'eltrix';

export interface MenuItem {
  readonly value: string;
  readonly label: string;
}

/** A button with a menu of things to do. */
export class HiveMenu extends contract('hive-menu', {
  about: 'A button that opens a menu of things to do with a hive.',
  attributes: {
    label: text({ about: 'What the button says.' }),
    disabled: flag({ about: 'Nothing can be done now.' }),
  },
  properties: { items: data<readonly MenuItem[]>(() => [], { about: 'What there is to do.' }) },
  events: { 'menu-choose': event<{ value: string }>({ about: 'The reader chose one.' }) },
  parts: { button: 'The button that opens it.' },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: inline-block; }
      button { padding: 6px 14px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 8px; background: transparent; color: inherit; font: inherit; cursor: pointer; }
      button:disabled { opacity: 0.5; cursor: default; }
      button:focus-visible { outline: 2px solid light-dark(#8a5a00, #f3c14b); outline-offset: 2px; }
      [role='menu'] { position: fixed; inset: auto; min-width: 180px; margin: 6px 0 0; padding: 6px; border: 1px solid light-dark(#d9cfb8, #4a4538); border-radius: 12px; background: light-dark(#fffdf8, #24221d); color: inherit; box-shadow: 0 10px 30px rgb(0 0 0 / 0.18); }
      [role='menuitem'] { display: block; width: 100%; border: 0; text-align: start; }
      [role='menuitem']:hover, [role='menuitem']:focus { background: light-dark(#f3ecdc, #322e26); }
    `,
  ];

  view() {
    return markup`
      <button id="button" part="button" type="button" popovertarget="menu" aria-haspopup="menu" ${{ disabled: () => this.disabled }}>${() => this.label}</button>
      <div id="menu" role="menu" popover aria-labelledby="button" onbeforetoggle=${this.toggling} ontoggle=${this.toggled} onkeydown=${this.pressed}>
        ${() =>
          this.items.map(
            ({ value, label }) =>
              markup`<button type="button" role="menuitem" tabindex="-1" onclick=${() => this.choose(value)}>${label}</button>`,
          )}
      </div>`;
  }

  get #menu(): HTMLElement {
    return this.shadowRoot!.querySelector<HTMLElement>('#menu')!;
  }

  toggling(event: ToggleEvent): void {
    if (event.newState === 'open') this.#place();
    // Chromium does not return the focus to a button in a shadow root.
    else if (this.#menu.contains(this.shadowRoot!.activeElement))
      this.shadowRoot!.querySelector<HTMLElement>('#button')!.focus();
  }

  /** Below its button, and within the page. */
  #place(): void {
    const { left, right, bottom } = this.getBoundingClientRect();
    const { style } = this.#menu;
    style.top = `${bottom}px`;
    const isRtl = getComputedStyle(this).direction === 'rtl';
    style.left = `${Math.max(8, isRtl ? right - 200 : Math.min(left, innerWidth - 208))}px`;
  }

  toggled(event: ToggleEvent): void {
    if (event.newState === 'open') this.#menu.querySelector('button')?.focus();
  }

  pressed(event: KeyboardEvent): void {
    const items = [...this.#menu.querySelectorAll('button')];
    const at = items.indexOf(this.shadowRoot!.activeElement as HTMLButtonElement);
    const steps: Record<string, number> = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: items.length - 1 };
    const to = steps[event.key];
    if (to === undefined || items.length === 0) return;
    event.preventDefault();
    items[(to + items.length) % items.length]!.focus();
  }

  choose(value: string): void {
    this.#menu.hidePopover();
    this.emit('menu-choose', { value });
  }
}

HiveMenu.define();

declare global {
  interface HTMLElementTagNameMap {
    'hive-menu': HiveMenu;
  }
}
