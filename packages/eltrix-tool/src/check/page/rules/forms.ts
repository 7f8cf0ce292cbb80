import { provoke } from '../provoke.ts';
import { quiet } from '../quiet.ts';
import { deepElements, type Stage, Unsaid } from '../stage.ts';
import { failure, type Rule } from './rule.ts';

const noForm = ({ task }: Stage) => (task.description.form ? undefined : 'it takes no part in forms');

type Field = HTMLElement & {
  readonly form: HTMLFormElement | null;
  readonly validity: ValidityState;
  readonly validationMessage: string;
  readonly willValidate: boolean;
  checkValidity(): boolean;
  formStateRestoreCallback?(state: unknown, reason: string): void;
};

type State = File | FormData | string | null;

interface InForm {
  readonly form: HTMLFormElement;
  readonly field: Field;
  /**
   * The state that a browser would save: the last state passed to `setFormValue()`, or else the value (HTML §4.13.7.2);
   * undefined if neither was set.
   */
  state(): State | undefined;
  end(): void;
}

/** The element of the first specimen, alone in a form, with the name "probe". */
async function inForm(stage: Stage, around?: HTMLFieldSetElement): Promise<InForm> {
  const form = document.createElement('form');
  form.addEventListener('submit', event => event.preventDefault());
  const states = new Map<ElementInternals, State>();
  const { prototype } = ElementInternals;
  const { setFormValue } = prototype;
  prototype.setFormValue = function (...given) {
    setFormValue.apply(this, given);
    states.set(this, given.length > 1 ? given[1]! : given[0]);
  };
  const box = stage.box();
  const end = () => {
    prototype.setFormValue = setFormValue;
    box.remove();
  };
  try {
    const { element } = await stage.stage();
    element.parentElement!.remove();
    const outer = element.closest('form');
    outer?.remove();
    const place = around ?? form;
    if (around) form.append(around);
    element.setAttribute('name', 'probe');
    place.append(element);
    box.append(form);
    await quiet();
    const state = () => [...states].find(([internals]) => internals.form === form)?.[1];
    return { form, field: element as Field, state, end };
  } catch (error) {
    end();
    throw error;
  }
}

const submitted = (form: HTMLFormElement) =>
  JSON.stringify(
    [...new FormData(form)].map(([name, value]) => [name, typeof value === 'string' ? value : value.name]),
  );

export const formRules: readonly Rule[] = [
  {
    code: 'form-submit',
    applies: noForm,
    async run(stage) {
      const { form, field, state, end } = await inForm(stage);
      try {
        const did = 'put it into a form as name="probe"';
        if (field.form !== form)
          return failure(
            did,
            'its form is that form',
            String(field.form),
            'Leave `form` to the library, or answer with internals.form.',
          );
        if (![...form.elements].includes(field))
          return failure(did, 'it is among form.elements', 'it is not', 'Make it form-associated: form: true.');
        // Its value may be a FormData with other names (HTML §4.10.21.4).
        const submits = () => [...new FormData(form)].length > 0;
        if (submits()) return undefined;
        await provoke(field);
        if (submits()) return undefined;
        if (state() === null) throw new Unsaid('its specimens and their use give it no value');
        return failure(
          `${did}, and used it`,
          'the form submits a value for "probe"',
          submitted(form),
          'Return the value from formValue(), or call internals.setFormValue().',
        );
      } finally {
        end();
      }
    },
  },
  {
    code: 'form-reset',
    applies: noForm,
    async run(stage) {
      const { form, field, end } = await inForm(stage);
      try {
        const initial = submitted(form);
        await provoke(field);
        await quiet();
        form.reset();
        await quiet();
        const seen = submitted(form);
        return seen === initial
          ? undefined
          : failure(
              'used it and reset the form',
              `the form submits ${initial}, as at first`,
              seen,
              'Go back to the initial value in formReset().',
            );
      } finally {
        end();
      }
    },
  },
  {
    code: 'form-disabled',
    applies: noForm,
    async run(stage) {
      const around = document.createElement('fieldset');
      const { form, field, end } = await inForm(stage, around);
      try {
        around.disabled = true;
        await quiet();
        const did = 'put it into a disabled fieldset';
        if (!field.matches(':disabled'))
          return failure(did, 'it matches :disabled', 'it does not', 'Make it form-associated: form: true.');
        if (new FormData(form).has('probe'))
          return failure(did, 'it is not submitted', submitted(form), 'Leave the form value to the standard.');
        // A disabled element must not be usable either.
        const open =
          field.shadowRoot &&
          [...deepElements(field.shadowRoot)].find(
            node =>
              node.matches('input, select, textarea, button') &&
              !node.matches(':disabled') &&
              (node as HTMLElement).getClientRects().length > 0,
          );
        if (open)
          return failure(
            did,
            'its controls are disabled as well',
            `<${open.localName}> can be used`,
            'Follow formDisabled(disabled): keep it in a property that the controls read.',
          );
        return undefined;
      } finally {
        end();
      }
    },
  },
  {
    code: 'form-validity',
    applies: noForm,
    async run(stage) {
      const { field, end } = await inForm(stage);
      try {
        for (const did of ['asked for its validity', 'used it and asked again']) {
          let invalid = 0;
          const count = () => void invalid++;
          field.addEventListener('invalid', count);
          const fix = 'Return { flags, message, anchor } from validate() while it is wrong, and null while it is not.';
          const valid = field.checkValidity();
          field.removeEventListener('invalid', count);
          if (valid !== field.validity.valid)
            return failure(did, `checkValidity() is ${field.validity.valid}, as validity.valid`, String(valid), fix);
          if (!valid && invalid === 0) return failure(did, 'an "invalid" event', 'there is none', fix);
          if (!valid && !field.validationMessage) return failure(did, 'a message for the reader', 'there is none', fix);
          if (valid !== !field.matches(':invalid'))
            return failure(did, 'the same in CSS', `:invalid is ${field.matches(':invalid')}`, fix);
          await provoke(field);
        }
        return undefined;
      } finally {
        end();
      }
    },
  },
  {
    code: 'form-restore',
    applies: stage =>
      noForm(stage) ?? ('formStateRestoreCallback' in stage.Class.prototype ? undefined : 'it restores nothing'),
    async run(stage) {
      const first = await inForm(stage);
      let state: State | undefined;
      let expected: string;
      try {
        await provoke(first.field);
        state = first.state();
        expected = submitted(first.form);
      } finally {
        first.end();
      }
      if (state === undefined || state === null) return undefined;
      const values = state instanceof FormData ? [...state.values()] : [state];
      if (values.some(value => value instanceof File)) throw new Unsaid('a user chooses its files again');
      const { form, field, end } = await inForm(stage);
      try {
        field.formStateRestoreCallback!(state, 'restore');
        await quiet();
        const seen = submitted(form);
        if (seen === expected) return undefined;
        const shown = typeof state === 'string' ? JSON.stringify(state) : `in a ${state.constructor.name}`;
        return failure(
          `gave back the state ${shown}, as a browser does after "back"`,
          `the form submits ${expected}`,
          seen,
          'Write formStateRestore(state): set the property that formValue() reads.',
        );
      } finally {
        end();
      }
    },
  },
];
