import { contract, data, event, markup, stylesheet } from 'eltrix';
import type { Changes } from '../model.ts';
import { baseStyle } from './base-style.ts';
import { type Control, jsonProblem } from './controls.ts';

const nothing: Control = {
  group: 'attributes',
  name: 'name',
  title: 'name',
  kind: 'text',
  about: undefined,
  values: [],
  min: undefined,
  max: undefined,
  whole: false,
  fallback: undefined,
  outline: undefined,
};

export class GalleryControl extends contract('gallery-control', {
  about: 'A field for an attribute, a property, a slot, a custom property or a state.',
  properties: {
    control: data<Control>(() => ({ ...nothing }), { about: 'The description of the field.' }),
    current: data<string | null>(() => null, { about: 'The current value; null means absent.' }),
    changed: data<boolean>(() => false, { about: 'Whether the user has changed it.' }),
  },
  events: {
    'control-change': event<{ group: keyof Changes; name: string; value: string | boolean | null | undefined }>({
      about: 'The user changed the value; undefined resets it.',
    }),
    'control-outline': event<Control['outline'] | null>({ about: 'The user focused or left the field of a slot.' }),
  },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: block; padding: 8px 0; }
      .head { display: flex; align-items: baseline; justify-content: space-between; gap: 8px; margin-bottom: 4px; }
      label, .name { font-family: var(--mono); font-size: 12.5px; font-weight: 600; overflow-wrap: anywhere; }
      p { margin-top: 4px; font-size: 12px; line-height: 1.45; color: var(--muted); }
      .bad { color: var(--bad); }
      .undo { flex: none; padding: 0; border: 0; background: none; color: var(--accent); font-size: 12px; text-decoration: underline; cursor: pointer; }
      .row { display: flex; align-items: center; gap: 8px; }
      input[type='checkbox'] { width: 16px; height: 16px; margin: 0; accent-color: var(--accent); }
      input[type='range'] { flex: 1; min-width: 0; accent-color: var(--accent); }
      input[type='color'] { flex: none; width: 34px; height: 30px; padding: 2px; border: 1px solid var(--line-strong); border-radius: 6px; background: var(--raised); }
      .number { width: 84px; flex: none; }
      .tokens { display: flex; flex-wrap: wrap; gap: 4px 14px; font-size: var(--small); }
      .tokens label, .check label { display: inline-flex; align-items: center; gap: 8px; font-weight: 600; }
      .tokens label { font-weight: 400; }
    `,
  ];

  view() {
    return markup`
      ${() => {
        const { kind } = this.control;
        return kind === 'flag' || kind === 'state' ? this.check() : this.field();
      }}
      ${() => this.control.about && markup`<p id="about">${() => this.control.about}</p>`}
      ${() =>
        this.control.kind === 'json' &&
        this.problem !== undefined &&
        markup`<p class="bad" role="status">Not valid JSON yet, so the element keeps its value: ${() => this.problem}</p>`}`;
  }

  get problem(): string | undefined {
    return jsonProblem(this.current ?? '');
  }

  check() {
    return markup`
      <div class="head check">
        <label><input type="checkbox" ${{
          checked: () => this.current !== null,
          onchange: (event: Event) => this.tick((event.target as HTMLInputElement).checked),
        }}>${() => this.control.title}</label>
        ${this.undo()}
      </div>`;
  }

  field() {
    return markup`
      <div class="head">
        ${() => (this.control.kind === 'tokens' ? markup`<span class="name">${() => this.control.title}</span>` : markup`<label for="field">${() => this.control.title}</label>`)}
        ${this.undo()}
      </div>
      ${() => this.input()}`;
  }

  undo() {
    return markup`${() =>
      this.changed &&
      markup`<button type="button" class="undo" onclick=${() => this.send(undefined)} aria-label=${() => `as it was: ${this.control.title}`}>as it was</button>`}`;
  }

  input() {
    const { kind, values, min, max, whole } = this.control;
    const shown = () => this.current ?? '';
    const outline = {
      onfocus: () => this.outline(true),
      onblur: () => this.outline(false),
      onpointerenter: () => this.outline(true),
      onpointerleave: () => this.outline(false),
    };
    const oninput = (event: Event) => this.write((event.target as HTMLInputElement).value);
    const placeholder = () => (this.current === null ? (this.control.fallback ?? '') : '');
    switch (kind) {
      case 'choice':
        return markup`<select id="field" class="field" onchange=${(event: Event) => this.choose((event.target as HTMLSelectElement).value)}>
          <option value="-" ${{ selected: () => this.current === null }}>absent${() => (this.control.fallback ? ` (${this.control.fallback})` : '')}</option>
          ${values.map(value => markup`<option value=${`=${value}`} ${{ selected: () => this.current === value }}>${value === '' ? '(empty)' : value}</option>`)}
          ${() => this.current !== null && !values.includes(this.current) && markup`<option value=${() => `=${this.current}`} selected>${() => this.current} (not among them)</option>`}
        </select>`;
      case 'number':
        return markup`<input id="field" class="field" type="number" min=${min ?? null} max=${max ?? null} step=${whole ? 1 : 'any'} placeholder=${placeholder} ${{ value: shown, oninput }}>`;
      case 'range':
        return markup`<div class="row">
          <input type="range" aria-label=${() => `${this.control.title}, by sliding`} min=${min ?? 0} max=${max ?? 100} step=${whole ? 1 : 'any'} ${{ value: () => this.current ?? this.control.fallback ?? String(min ?? 0), oninput }}>
          <input id="field" class="field number" type="number" min=${min ?? 0} max=${max ?? 100} step=${whole ? 1 : 'any'} placeholder=${placeholder} ${{ value: shown, oninput }}>
        </div>`;
      case 'url':
        return markup`<input id="field" class="field" type="text" inputmode="url" spellcheck="false" placeholder=${placeholder} ${{ value: shown, oninput }}>`;
      case 'tokens':
        return markup`<div class="tokens" role="group" aria-label=${() => this.control.title}>${values.map(
          value =>
            markup`<label><input type="checkbox" ${{
              checked: () => this.tokens.includes(value),
              onchange: (event: Event) => this.token(value, (event.target as HTMLInputElement).checked),
            }}>${value}</label>`,
        )}</div>`;
      case 'json':
      case 'html':
        return markup`<textarea id="field" class="field" rows=${kind === 'json' ? 4 : 3} spellcheck="false" placeholder=${kind === 'json' ? 'a function, or another value that JSON cannot hold' : null} aria-invalid=${() => (kind === 'json' && this.problem !== undefined ? 'true' : null)} ${outline} ${{ value: shown, oninput }}></textarea>`;
      case 'colour':
        return markup`<div class="row">
          <input type="color" aria-label=${() => `${this.control.title}, by picking`} ${{ value: () => (/^#[0-9a-f]{6}$/i.test(this.current ?? '') ? this.current : '#888888'), oninput }}>
          <input id="field" class="field" type="text" spellcheck="false" placeholder="default of the element" ${{ value: shown, oninput }}>
        </div>`;
      default:
        return markup`<input id="field" class="field" type="text" placeholder=${placeholder} ${{ value: shown, oninput }}>`;
    }
  }

  get tokens(): string[] {
    return (this.current ?? '').split(/\s+/).filter(Boolean);
  }

  token(value: string, on: boolean): void {
    const others = this.tokens.filter(token => token !== value);
    this.send((on ? [...others, value] : others).join(' '));
  }

  tick(on: boolean): void {
    this.send(this.control.kind === 'state' ? on : on ? '' : null);
  }

  choose(value: string): void {
    this.send(value === '-' ? null : value.slice(1));
  }

  write(value: string): void {
    const clears = value === '' && ['number', 'range', 'colour'].includes(this.control.kind);
    const { group } = this.control;
    this.send(clears ? (group === 'attributes' ? null : undefined) : value);
  }

  send(value: string | boolean | null | undefined): void {
    const { group, name } = this.control;
    this.emit('control-change', { group, name, value });
  }

  outline(on: boolean): void {
    const { outline } = this.control;
    if (outline) this.emit('control-outline', on ? outline : null);
  }
}

GalleryControl.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-control': GalleryControl;
  }
}
