import { contract, event, handle, markup, stylesheet, text } from 'eltrix';
import './mood-field.ts';
import './weight-field.ts';

/** What a keeper writes down after looking into a hive. */
export interface InspectionDraft {
  readonly date: string;
  readonly honey: number;
  readonly mood: string;
  readonly note: string;
}

export class InspectionForm extends contract('inspection-form', {
  about: 'Writes down an inspection: date, honey, mood and a note.',
  attributes: {
    hive: text({ about: 'Which hive was looked into.' }),
    today: text({ about: 'The date that it begins with, as year-month-day.' }),
  },
  events: { 'inspection-save': event<InspectionDraft>({ about: 'The keeper saved it; it was valid.' }) },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; }
      :host([hidden]) { display: none; }
      form { display: grid; gap: 14px; }
      .row { display: flex; flex-wrap: wrap; gap: 14px 20px; }
      label.field { display: grid; gap: 4px; }
      input, textarea { box-sizing: border-box; width: 100%; padding: 6px 9px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 8px; background: transparent; color: inherit; font: inherit; }
      textarea { min-height: 4.5em; resize: vertical; }
      button { justify-self: start; padding: 7px 18px; border: 0; border-radius: 8px; background: light-dark(#7a4a00, #f3c14b); color: light-dark(#fffaf0, #201a0c); font: inherit; font-weight: 600; cursor: pointer; }
      :focus-visible { outline: 2px solid light-dark(#8a5a00, #f3c14b); outline-offset: 2px; }
    `,
  ];

  readonly form = handle<HTMLFormElement>();

  view() {
    return markup`
      <form ${this.form} onsubmit=${this.save} aria-label=${() => `Inspection of ${this.hive || 'a hive'}`}>
        <div class="row">
          <label class="field">Date<input type="date" name="date" required value=${() => this.today}></label>
          <weight-field name="honey" label="Honey, kg" value="0" heaviest="60"></weight-field>
        </div>
        <mood-field name="mood" label="How are they?"></mood-field>
        <label class="field">Note<textarea name="note" maxlength="200" placeholder="What did you see?"></textarea></label>
        <button type="submit">Save inspection</button>
      </form>`;
  }

  save(event: SubmitEvent): void {
    event.preventDefault();
    const form = this.form.element!;
    if (!form.reportValidity()) return;
    const { date, honey, mood, note } = Object.fromEntries(new FormData(form)) as Record<string, string>;
    this.emit('inspection-save', { date: date!, honey: Number(honey), mood: mood!, note: note!.trim() });
    form.reset();
  }
}

InspectionForm.define();

declare global {
  interface HTMLElementTagNameMap {
    'inspection-form': InspectionForm;
  }
}
