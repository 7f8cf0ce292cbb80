import { contract, data, each, event, flag, markup, type Scope, signal, stylesheet, text } from 'eltrix';
import type {
  AuditResult,
  Changes,
  Circumstances,
  FrameGiven,
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
import { type Again, base, elementOf, frames, data as projectData } from './state.ts';

/** The number of lines that are kept. */
const kept = 200;

/** The time limit for starting a frame, in milliseconds. */
const patience = 3000;

interface FramePage {
  readonly id: number;
  readonly source: string;
}

/** The number of created frames. */
let count = 0;

export class GalleryPlate extends contract('gallery-plate', {
  about: 'A specimen in a frame, which runs while it is near the viewport.',
  attributes: {
    tag: text({ about: 'The tag of the element.' }),
    specimen: text({ about: 'The slug of the specimen.' }),
    heading: text({ about: 'The title of the specimen.' }),
    chosen: flag({ about: 'Whether it is selected: fields change it, and its panels are open.' }),
    bare: flag({ about: 'Whether only the frame is shown, scaled and inert, for the overview.' }),
  },
  properties: {
    changes: data<Changes>(freshChanges, { about: 'The changes of the user.' }),
    circumstances: data<Circumstances>(freshCircumstances, { about: 'The settings.' }),
  },
  events: {
    'plate-choose': event<{ specimen: string }>({ about: 'The user selected it.' }),
    'plate-state': event<FrameState>({ about: 'The state of its element has changed.' }),
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
      .room { position: relative; overflow-x: auto; border-top: 1px solid var(--line); background: var(--sunken); }
      iframe { display: block; width: 100%; min-width: 0; margin: 0 auto; border: 0; background: var(--raised); }
      .behind { position: absolute; inset: 0 0 auto; opacity: 0; pointer-events: none; }
      .wait { height: 120px; }
      .do { display: flex; align-items: center; gap: 8px; }
      .loading { position: absolute; inset: 0; display: grid; place-content: center; margin: 0; pointer-events: none; animation: late 0s 0.4s both; }
      @keyframes late { from { visibility: hidden; } }
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
  /** The visible frame, a standby for the next change, or a replaced frame. */
  #pages = signal<readonly FramePage[]>([]);
  #shown = signal(0);
  #ready = signal(false);
  #next: 'none' | 'waits' | 'begins' = 'none';
  /** Reports of the next frame while it starts. */
  #early: FrameNews[] = [];
  /** The state that the next frame starts with. */
  #begin: { readonly given: FrameGiven; readonly url: string | undefined } | undefined;
  #began = 0;
  /** When the server last announced a change. */
  #changed = 0;
  /** Whether the visible frame began before that. */
  #late = false;

  view() {
    return markup`
      <figure>
        <figcaption>
          <b>${() => this.heading}</b>
          <span class="do">${() => !this.bare && markup`<button type="button" class="button" onclick=${this.showAgain}>Show again<span hidden>: ${() => this.heading}</span></button>`}
          ${() => (this.chosen ? markup`<span class="quiet">edited here</span>` : markup`<button type="button" class="button" onclick=${this.choose}>Edit<span hidden>: ${() => this.heading}</span></button>`)}</span>
        </figcaption>
        <div class="room">${each(
          () => this.#pages.get(),
          ({ id }) => id,
          page => markup`<iframe
            data-id=${page().id}
            title=${() => (this.shows(page()) ? `${this.heading}, live` : 'Standby')}
            class=${() => (this.shows(page()) ? '' : 'behind')}
            aria-hidden=${() => (this.shows(page()) ? null : 'true')}
            tabindex=${() => (this.shows(page()) && !this.bare ? null : '-1')}
            src=${page().source}
            style=${() => this.size}></iframe>`,
        )}${() => this.#pages.get().length === 0 && markup`<div class="wait" style=${() => this.size}></div>`}${() => !this.#ready.get() && markup`<p class="loading quiet">Loading …</p>`}</div>
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

  source(isNext: boolean): string {
    const { tag, specimen } = this;
    const query = { tag, specimen, ...(this.isLive ? { live: '' } : {}), ...(isNext ? { standby: '' } : {}) };
    return new URL(`frame.html?${new URLSearchParams(query)}`, base).href;
  }

  get isLive(): boolean {
    return projectData.peek()?.live === true;
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
    scope.effect(() => {
      const isNear = this.#near.get() && this.tag !== '';
      this.open(isNear);
    });
    scope.on<MessageEvent<FrameNews>>(window, 'message', ({ source, data }) => {
      const from = source && this.#pages.peek().find(({ id }) => this.windowOf(id) === source)?.id;
      if (!from) return;
      if (from === this.#shown.peek()) this.hear(data, scope);
      else if (from > this.#shown.peek()) this.hearNext(data, scope);
    });
    scope.on<CustomEvent<Again>>(frames, 'again', ({ detail: { tags, time, elements } }) => {
      this.#problem.set(null);
      this.#changed = time;
      const known = elements.find(({ element }) => element.description.tag === this.tag);
      const element = known?.element ?? elementOf(this.tag).peek();
      const all = projectData.peek()?.elements ?? [];
      this.#begin = element && { given: { element, tags: all.map(({ tag }) => tag), time }, url: known?.url };
      if (this.#next === 'begins') {
        if (performance.now() - this.#began < patience) return;
        // The next frame has an endless loop: the visible frame is reloaded.
        this.#next = 'none';
        this.#early = [];
        this.#pages.set(this.#pages.peek().filter(({ id }) => id <= this.#shown.peek()));
      }
      this.order({ type: 'again', tags, standby: this.#next === 'waits' && element !== undefined });
    });
    scope.effect(() => {
      const { circumstances } = this;
      if (this.#ready.peek()) this.order({ type: 'circumstances', circumstances });
    });
    scope.effect(() => {
      const { changes } = this;
      if (this.#ready.peek()) this.order({ type: 'apply', changes, fresh: false });
    });
  }

  /** Opens a new frame, or none. */
  open(isNear: boolean): void {
    this.#ready.set(false);
    this.#next = 'none';
    this.#problem.set(null);
    this.#pages.set(isNear ? [{ id: ++count, source: this.source(false) }] : []);
    this.#shown.set(count);
  }

  /** Shows the specimen from its beginning, with the changes of the user. */
  showAgain(): void {
    this.empty();
    this.open(true);
  }

  shows(page: FramePage): boolean {
    return page.id === this.#shown.get();
  }

  windowOf(id: number | undefined): Window | null | undefined {
    return this.shadowRoot!.querySelector<HTMLIFrameElement>(`[data-id="${id}"]`)?.contentWindow;
  }

  order(order: FrameOrder, id = this.#shown.peek()): void {
    this.windowOf(id)?.postMessage(order, location.origin);
  }

  /** The reports of the next frame. */
  hearNext(news: FrameNews, scope: Scope): void {
    if (news.type === 'standby') {
      this.#next = 'waits';
      if (this.#late) this.order({ type: 'again', tags: null, standby: true });
      this.#late = false;
    } else if (news.type !== 'ready') this.#early.push(news);
    else {
      this.#shown.set(this.#pages.peek().at(-1)!.id);
      this.#next = 'none';
      const early = this.#early.splice(0);
      for (const earlier of [news, ...early]) this.hear(earlier, scope);
    }
  }

  hear(news: FrameNews, scope: Scope): void {
    switch (news.type) {
      case 'ready':
        this.#ready.set(true);
        this.order({ type: 'circumstances', circumstances: this.circumstances });
        this.order({ type: 'apply', changes: this.changes, fresh: false });
        // A file may have been saved during the start. The frame stays until another one shows what was saved.
        this.#late = news.time < this.#changed;
        if (this.#late && (this.bare || !this.#begin)) this.order({ type: 'again', tags: null, standby: false });
        else if (this.#late) this.prepare();
        else if (this.isLive && !this.bare) scope.after(700, () => this.prepare());
        break;
      case 'leaving':
        if (this.#next !== 'waits' || !this.#begin) return this.order({ type: 'again', tags: null, standby: false });
        this.#next = 'begins';
        this.#began = performance.now();
        this.order({ type: 'go', place: news.place, ...this.#begin }, this.#pages.peek().at(-1)!.id);
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

  /** Removes replaced frames, and creates a standby behind the visible one. */
  prepare(): void {
    const pages = this.#pages.peek().filter(({ id }) => id >= this.#shown.peek());
    if (pages.length === 1) this.#pages.set([...pages, { id: ++count, source: this.source(true) }]);
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

  /** Outlines a slot or part in the frame; null removes the outline. */
  outline(of: { readonly kind: 'slot' | 'part'; readonly name: string } | null): void {
    this.order({ type: 'outline', of });
  }

  /** Reloads the specimen. */
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
