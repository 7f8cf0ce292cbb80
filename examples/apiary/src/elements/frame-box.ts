import { contract, data, each, event, markup, type Scope, signal, stylesheet, text } from 'eltrix';
import { entering, leaving } from 'eltrix/views';
import type { Frame } from './hive-card.ts';

/** What a full frame holds, in kilograms. */
const full = 3;

/** A frame that goes makes room for the others, and one that comes takes it. */
const narrow = { flex: '0.001', marginInline: '-3px' };
const leave = leaving([{ flex: '1' }, narrow], { duration: 160, easing: 'ease-in' });
const enter = entering([narrow, { flex: '1' }], { duration: 160, easing: 'ease-out' });

/** A frame on its way: whose it was, and where it stood. */
interface Carried {
  readonly box: FrameBox;
  readonly id: number;
}

/** One frame is dragged at a time, from any box to any box. */
let carried: Carried | undefined;

/** A box of frames, which are moved by pointer or keyboard. */
export class FrameBox extends contract('frame-box', {
  about: 'A box of frames. They are dragged within it, and to other boxes, by pointer or keyboard.',
  attributes: { label: text({ about: 'Which box it is.' }) },
  properties: { frames: data<readonly Frame[]>(() => [], { about: 'The frames, from the left.' }) },
  events: {
    'frames-change': event<{ ids: number[] }>({ about: 'A frame came, went, or stands elsewhere.' }),
  },
  parts: { frame: 'One frame.' },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; }
      :host([hidden]) { display: none; }
      h3 { margin: 0 0 6px; font-size: 0.9rem; font-weight: 600; }
      ol { display: flex; gap: 6px; min-height: 96px; margin: 0; padding: 8px; border: 1px solid light-dark(#d9cfb8, #4a4538); border-radius: 10px; background: light-dark(#f7f0df, #262319); list-style: none; touch-action: none; }
      ol.over { outline: 2px dashed light-dark(#8a5a00, #f3c14b); outline-offset: 2px; }
      li { flex: 1; max-width: 72px; }
      button {
        position: relative; display: flex; align-items: end; width: 100%; height: 100%; min-height: 78px; padding: 0; overflow: hidden; border: 1px solid light-dark(#b79f6a, #6d6142);
        border-radius: 5px; background: light-dark(#fffaf0, #38342b); color: light-dark(#2a261d, #f3ecdc); font: inherit; font-size: 0.75rem; cursor: grab;
      }
      button span { position: absolute; inset-inline: 0; bottom: 0; background: light-dark(#eec368, #7a5a14); }
      button b { position: relative; width: 100%; padding-bottom: 4px; text-align: center; font-weight: 600; }
      button:focus-visible { outline: 2px solid light-dark(#8a5a00, #f3c14b); outline-offset: 2px; }
      .carried { opacity: 0.55; cursor: grabbing; border-style: dashed; }
      .empty { align-self: center; margin: auto; font-size: 0.85rem; color: light-dark(#6b6454, #b3ab98); }
      .announced { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); white-space: nowrap; }
    `,
  ];

  readonly #held = signal<number | undefined>(undefined);
  readonly #over = signal(false);
  readonly #announcement = signal('');

  view() {
    return markup`
      <h3 id="label">${() => this.label}</h3>
      <ol aria-labelledby="label" class=${() => ({ over: this.#over.get() })}
        onpointerdown=${this.grip} onpointermove=${this.drag} onpointerup=${this.drop} onpointercancel=${this.cancel}>${each(
          () => this.frames,
          ({ id }) => id,
          (frame, index) => markup`
            <li ${leave} ${enter}>
              <button type="button" part="frame" data-id=${() => frame().id} class=${() => ({ carried: this.#held.get() === frame().id })}
                aria-pressed=${() => String(this.#held.get() === frame().id)}
                aria-label=${() => `Frame ${index() + 1}, ${frame().honey.toFixed(1)} kg`}
                onkeydown=${(event: KeyboardEvent) => this.key(event, frame().id)}>
                <span style=${() => ({ height: `${Math.min(100, (frame().honey / full) * 100)}%` })}></span>
                <b>${() => frame().honey.toFixed(1)}</b>
              </button>
            </li>`,
        )}${() => this.frames.length === 0 && markup`<li class="empty">Empty</li>`}</ol>
      <p class="announced" role="status">${() => this.#announcement.get()}</p>`;
  }

  connected(scope: Scope): void {
    scope.use(() => {
      if (carried?.box === this) carried = undefined;
      this.#held.set(undefined);
    });
  }

  // By pointer.

  grip(event: PointerEvent): void {
    const button = (event.target as Element).closest('button');
    if (!button || event.button !== 0) return;
    carried = { box: this, id: Number(button.dataset['id']) };
    this.#held.set(carried.id);
    button.setPointerCapture?.(event.pointerId);
  }

  drag(event: PointerEvent): void {
    if (!carried) return;
    for (const box of boxes()) box.#over.set(box === boxAt(event));
  }

  drop(event: PointerEvent): void {
    if (!carried) return;
    const target = boxAt(event);
    if (target) carry(carried, target, target.indexAt(event.clientX, carried.id));
    this.cancel();
  }

  cancel(): void {
    if (carried) carried.box.#held.set(undefined);
    carried = undefined;
    for (const box of boxes()) box.#over.set(false);
  }

  /** Where a frame that is let go at a place would stand. */
  indexAt(x: number, id: number): number {
    const others = [...this.shadowRoot!.querySelectorAll<HTMLElement>('li:not([inert]) button')].filter(
      button => Number(button.dataset['id']) !== id,
    );
    const isRtl = getComputedStyle(this).direction === 'rtl';
    const after = others.filter(button => {
      const { left, width } = button.getBoundingClientRect();
      return isRtl ? x < left + width / 2 : x > left + width / 2;
    });
    return after.length;
  }

  // By keyboard: Space takes and puts, the arrows carry.

  key(event: KeyboardEvent, id: number): void {
    const isHeld = this.#held.peek() === id;
    if (event.key === ' ' || event.key === 'Enter') {
      event.preventDefault();
      this.#held.set(isHeld ? undefined : id);
      this.#announcement.set(isHeld ? 'Put down.' : 'Taken. The arrow keys carry it, up and down to other boxes.');
      return;
    }
    if (!isHeld) return;
    if (event.key === 'Escape') {
      this.#held.set(undefined);
      return;
    }
    const steps: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1 };
    const index = this.frames.findIndex(frame => frame.id === id);
    let target: FrameBox | undefined = this;
    let to = index + (steps[event.key] ?? 0);
    if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      const all = boxes();
      target = all[all.indexOf(this) + (event.key === 'ArrowDown' ? 1 : -1)];
      to = Math.min(index, target?.frames.length ?? 0);
    } else if (!(event.key in steps)) return;
    event.preventDefault();
    if (!target || to < 0 || (target === this && to >= this.frames.length)) return;
    this.#held.set(undefined);
    carry({ box: this, id }, target, to);
    target.#held.set(id);
    target.#announcement.set(`${target.label}, place ${to + 1} of ${target.frames.length}.`);
    void Promise.resolve().then(() =>
      target.shadowRoot!.querySelector<HTMLElement>(`li:not([inert]) [data-id="${id}"]`)?.focus(),
    );
  }
}

FrameBox.define();

function boxes(): FrameBox[] {
  const found: FrameBox[] = [];
  const look = (root: ParentNode) => {
    for (const element of root.querySelectorAll('*')) {
      if (element instanceof FrameBox) found.push(element);
      if (element.shadowRoot && !(element instanceof FrameBox)) look(element.shadowRoot);
    }
  };
  look(document);
  return found;
}

/** The box under a pointer, through shadow roots. */
function boxAt({ clientX, clientY }: PointerEvent): FrameBox | undefined {
  let element = document.elementFromPoint(clientX, clientY);
  while (element && !(element instanceof FrameBox)) {
    const inner: Element | null | undefined = element.shadowRoot?.elementFromPoint(clientX, clientY);
    if (!inner || inner === element) return undefined;
    element = inner;
  }
  return element ?? undefined;
}

function carry({ box, id }: Carried, target: FrameBox, to: number): void {
  const frame = box.frames.find(frame => frame.id === id);
  if (!frame) return;
  const before = target.frames.map(({ id }) => id).join();
  const others = target.frames.filter(other => other.id !== id);
  if (box !== target) {
    box.frames = box.frames.filter(other => other.id !== id);
    box.emit('frames-change', { ids: box.frames.map(({ id }) => id) });
  }
  target.frames = [...others.slice(0, to), frame, ...others.slice(to)];
  const ids = target.frames.map(({ id }) => id);
  if (ids.join() !== before) target.emit('frames-change', { ids });
}

declare global {
  interface HTMLElementTagNameMap {
    'frame-box': FrameBox;
  }
}
