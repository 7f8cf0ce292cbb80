import { choice, contract, data, each, event, markup, stylesheet } from 'eltrix';
import type { AuditResult, FrameNews, Happening } from '../model.ts';
import { baseStyle } from './base-style.ts';

export type HeardEvent = Extract<FrameNews, { type: 'event' }>;

const panels = ['html', 'events', 'timeline', 'audit'] as const;
const titles = { html: 'HTML', events: 'Events', timeline: 'Timeline', audit: 'Accessibility' } as const;
const seconds = (at: number) => `${(at / 1000).toFixed(2)} s`;

export class GalleryLabel extends contract('gallery-label', {
  about: 'Panels below the selected specimen: HTML, events, timeline, audit.',
  attributes: {
    panel: choice(panels, { missing: 'html', invalid: 'html', about: 'The open panel.' }),
  },
  properties: {
    html: data<string>(() => '', { about: 'The current HTML of the specimen.' }),
    heard: data<readonly HeardEvent[]>(() => [], { about: 'Events, the latest first.' }),
    happened: data<readonly Happening[]>(() => [], { about: 'The timeline, the latest entry first.' }),
    findings: data<readonly AuditResult[] | undefined>(() => undefined, {
      about: 'The findings of the audit; undefined before it has run.',
    }),
  },
  events: {
    'label-clear': event({ about: 'The user cleared events and timeline.' }),
    'label-audit': event({ about: 'The user started the audit.' }),
  },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: block; }
      .tabs { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; padding: 10px 12px; border-top: 1px solid var(--line); }
      .tabs .end { margin-inline-start: auto; }
      .count { margin-inline-start: 4px; font-variant-numeric: tabular-nums; opacity: 0.75; }
      .panel { max-height: 260px; overflow: auto; padding: 0 12px 12px; font-size: var(--small); line-height: 1.5; }
      pre { margin: 0; padding: 10px 12px; border-radius: 8px; background: var(--sunken); white-space: pre-wrap; overflow-wrap: anywhere; font-size: 12.5px; }
      li { display: grid; grid-template-columns: 58px minmax(110px, auto) 1fr; gap: 2px 12px; padding: 5px 0; border-bottom: 1px solid var(--line); }
      li > :nth-child(3) { overflow-wrap: anywhere; }
      time { font-size: 12px; font-variant-numeric: tabular-nums; color: var(--muted); }
      .flagged { color: var(--bad); font-weight: 600; }
      .cause { grid-column: 3; font-size: 12px; color: var(--muted); }
      .audit li { grid-template-columns: minmax(150px, auto) 1fr; }
      .empty { padding: 6px 0; }
      .well { color: var(--good); }
      @container (max-width: 460px) { li { grid-template-columns: 58px 1fr; } li > :nth-child(3), .cause { grid-column: 1 / -1; } }
    `,
  ];

  view() {
    return markup`
      <div class="tabs">
        ${panels.map(
          panel =>
            markup`<button type="button" class="button" aria-pressed=${() => String(this.panel === panel)} onclick=${() => this.open(panel)}>${titles[panel]}${() => {
              const count = panel === 'events' ? this.heard.length : panel === 'timeline' ? this.happened.length : 0;
              return count > 0 && markup`<span class="count">${count}</span>`;
            }}</button>`,
        )}
        <span class="end">${() => {
          if (this.panel === 'html')
            return markup`<button type="button" class="button" onclick=${this.copy}>Copy</button>`;
          if (this.panel === 'audit')
            return markup`<button type="button" class="button" onclick=${() => this.emit('label-audit', null)}>Run again</button>`;
          return markup`<button type="button" class="button" onclick=${() => this.emit('label-clear', null)}>Clear</button>`;
        }}</span>
      </div>
      <div class="panel" tabindex="0" role="region" aria-label=${() => titles[this.panel]} aria-live=${() => (this.panel === 'events' ? 'polite' : null)}>${() => this.panelView()}</div>`;
  }

  panelView() {
    switch (this.panel) {
      case 'events':
        return this.heard.length === 0
          ? markup`<p class="empty quiet">No events yet. Use the element above.</p>`
          : markup`<ol>${each(
              () => this.heard,
              (_, index) => this.heard.length - index,
              heard => markup`<li>
                <time>${() => seconds(heard().at)}</time>
                <span class=${() => ['code', !heard().declared && 'flagged']}>${() => heard().name}${() => (heard().declared ? '' : ' (not declared)')}</span>
                <span class="code">${() => heard().detail ?? ''}${() => (heard().cancelled ? ' cancelled' : '')}</span>
                <span class="cause">${() => heard().from}</span>
              </li>`,
            )}</ol>`;
      case 'timeline':
        return this.happened.length === 0
          ? markup`<p class="empty quiet">No entries yet.</p>`
          : markup`<ol>${each(
              () => this.happened,
              (_, index) => this.happened.length - index,
              entry => markup`<li>
                <time>${() => seconds(entry().at)}</time>
                <span class="code">${() => entry().element}</span>
                <span>${() => entry().what}</span>
                ${() => entry().cause && markup`<span class="cause">because of ${() => entry().cause}</span>`}
              </li>`,
            )}</ol>`;
      case 'audit': {
        const { findings } = this;
        if (!findings) return markup`<p class="empty quiet">Checking …</p>`;
        if (findings.length === 0) return markup`<p class="empty well">The audit found no problems.</p>`;
        return markup`<ul class="audit">${findings.map(
          ({ rule, impact, element, fix }) =>
            markup`<li><span><b>${rule}</b><br><span class="quiet">${impact}</span></span><span><code>${element}</code><br>${fix}</span></li>`,
        )}</ul>`;
      }
      default:
        return markup`<pre><code>${() => this.html}</code></pre>`;
    }
  }

  open(panel: (typeof panels)[number]): void {
    this.panel = panel;
    if (panel === 'audit') this.emit('label-audit', null);
  }

  copy(): void {
    void navigator.clipboard?.writeText(this.html);
  }
}

GalleryLabel.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-label': GalleryLabel;
  }
}
