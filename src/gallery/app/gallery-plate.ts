import { contract, data, event, flag, handle, markup, type Scope, signal, stylesheet, text } from 'eltrix';
import type {
  AuditResult,
  Changes,
  Circumstances,
  FrameNews,
  FrameOrder,
  FrameState,
  Happening,
  SourceProblem,
} from '../model.ts';
import { freshChanges, freshCircumstances, noChanges } from './address.ts';
import { baseStyle } from './base-style.ts';
import './gallery-fault.ts';
import './gallery-label.ts';
import type { HeardEvent } from './gallery-label.ts';
import { base, frames, data as projectData } from './state.ts';

/** So many lines are kept. */
const kept = 200;

export class GalleryPlate extends contract('gallery-plate', {
  about: 'A specimen in a frame of its own. It runs while it is near what is visible.',
  attributes: {
    tag: text({ about: 'The element that it shows.' }),
    specimen: text({ about: 'The slug of its specimen.' }),
    heading: text({ about: 'What the specimen is called.' }),
    chosen: flag({ about: 'The controls act on it, and its label is open.' }),
    bare: flag({ about: 'Only the frame, small and out of reach: for the overview.' }),
  },
  properties: {
    changes: data<Changes>(freshChanges, { about: 'What the controls have changed.' }),
    circumstances: data<Circumstances>(freshCircumstances, { about: 'How it is looked at.' }),
  },
  events: {
    'plate-choose': event<{ specimen: string }>({ about: 'The reader chooses it.' }),
    'plate-state': event<FrameState>({ about: 'What its element has become.' }),
  },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: block; container-type: inline-size; }
      figure { overflow: hidden; border: 1px solid var(--line); border-radius: 10px; background: var(--raised); }
      :host([chosen]) figure { border-color: var(--accent); box-shadow: 0 0 0 1px var(--accent); }
      figcaption { display: flex; align-items: center; justify-content: space-between; gap: 12px; padding: 9px 12px; font-size: var(--small); }
      figcaption b { font-weight: 600; overflow-wrap: anywhere; }
      .room { overflow-x: auto; border-top: 1px solid var(--line); background: var(--sunken); }
      iframe { display: block; width: 100%; min-width: 0; margin: 0 auto; border: 0; background: var(--raised); }
      .wait { height: 120px; }
      gallery-fault { margin: 12px; box-shadow: none; }
      :host([bare]) figure { border: 0; border-radius: 0; background: none; }
      :host([bare]) figcaption, :host([bare]) gallery-label { display: none; }
      :host([bare]) .room { height: 170px; overflow: hidden; border: 0; background: none; }
      :host([bare]) iframe { width: 142.86%; height: 243px !important; transform: scale(0.7); transform-origin: 0 0; pointer-events: none; background: none; }
    `,
  ];

  #near = signal(false);
  #height = signal(0);
  #state = signal<FrameState | undefined>(undefined);
  #heard = signal<readonly HeardEvent[]>([]);
  #happened = signal<readonly Happening[]>([]);
  #findings = signal<readonly AuditResult[] | undefined>(undefined);
  #problem = signal<SourceProblem | null>(null);
  #frame = handle<HTMLIFrameElement>();
  #ready = false;

  view() {
    return markup`
      <figure>
        <figcaption>
          <b>${() => this.heading}</b>
          ${() => (this.chosen ? markup`<span class="quiet">chosen</span>` : markup`<button type="button" class="button" onclick=${this.choose}>Work with it<span hidden>: ${() => this.heading}</span></button>`)}
        </figcaption>
        <div class="room">${() =>
          this.#near.get() && this.tag
            ? markup`<iframe ${this.#frame} title=${() => `${this.heading}, live`} tabindex=${this.bare ? '-1' : null} src=${() => this.source} style=${() => this.size}></iframe>`
            : markup`<div class="wait" style=${() => this.size}></div>`}</div>
        ${() => this.#problem.get() && markup`<gallery-fault ${{ problem: () => this.#problem.get() }}></gallery-fault>`}
        ${() =>
          this.chosen &&
          markup`<gallery-label ${{
            html: () => this.#state.get()?.html ?? '',
            heard: () => this.#heard.get(),
            happened: () => this.#happened.get(),
            findings: () => this.#findings.get(),
          }} onlabel-clear=${this.empty} onlabel-audit=${this.audit}></gallery-label>`}
      </figure>`;
  }

  get source(): string {
    return new URL(
      `frame.html?${new URLSearchParams({ tag: this.tag, specimen: this.specimen, ...(projectData.peek()?.live ? { live: '' } : {}) })}`,
      base,
    ).href;
  }

  get size(): Record<string, string> {
    const { width } = this.circumstances;
    const height = this.#height.get();
    return {
      ...(height > 0 ? { height: `${height}px` } : {}),
      ...(width > 0 && !this.bare ? { width: `${width}px` } : {}),
    };
  }

  connected(scope: Scope): void {
    const observer = new IntersectionObserver(
      entries => this.#near.set(entries.at(-1)!.isIntersecting || this.chosen),
      { rootMargin: '300px' },
    );
    observer.observe(this);
    scope.use(() => observer.disconnect());
    scope.on<MessageEvent<FrameNews>>(window, 'message', event => {
      if (event.source && event.source === this.#frame.element?.contentWindow) this.hear(event.data);
    });
    scope.on<CustomEvent<readonly string[] | null>>(frames, 'again', ({ detail }) => {
      this.#problem.set(null);
      const again = () => this.order({ type: 'again', tags: detail });
      // What the reader works with comes first: frames share one thread.
      if (this.chosen || this.bare) again();
      else scope.after(300, again);
    });
    scope.effect(() => {
      const { circumstances } = this;
      if (this.#ready) this.order({ type: 'circumstances', circumstances });
    });
    scope.effect(() => {
      const { changes } = this;
      if (this.#ready) this.order({ type: 'apply', changes, fresh: false });
    });
  }

  order(order: FrameOrder): void {
    this.#frame.element?.contentWindow?.postMessage(order, location.origin);
  }

  hear(news: FrameNews): void {
    switch (news.type) {
      case 'ready':
        this.#ready = true;
        this.order({ type: 'circumstances', circumstances: this.circumstances });
        this.order({ type: 'apply', changes: this.changes, fresh: false });
        break;
      case 'height':
        this.#height.set(Math.max(48, news.height));
        break;
      case 'state':
        this.#state.set(news.state);
        this.emit('plate-state', news.state);
        break;
      case 'event':
        this.#heard.set([news, ...this.#heard.peek()].slice(0, kept));
        break;
      case 'happened':
        this.#happened.set([...[...news.entries].reverse(), ...this.#happened.peek()].slice(0, kept));
        break;
      case 'audited':
        this.#findings.set(news.findings);
        break;
      case 'problem':
        this.#problem.set(news.problem);
    }
  }

  choose(): void {
    this.emit('plate-choose', { specimen: this.specimen });
  }

  empty(): void {
    this.#heard.set([]);
    this.#happened.set([]);
  }

  audit(): void {
    this.#findings.set(undefined);
    this.order({ type: 'audit' });
  }

  /** Draws boxes over a slot or part in the frame; null takes them away. */
  outline(of: { readonly kind: 'slot' | 'part'; readonly name: string } | null): void {
    this.order({ type: 'outline', of });
  }

  /** Starts the specimen from its beginning. */
  begin(): void {
    this.order({ type: 'apply', changes: noChanges, fresh: true });
  }
}

GalleryPlate.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-plate': GalleryPlate;
  }
}
