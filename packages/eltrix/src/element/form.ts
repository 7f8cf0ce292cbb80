/**
 * Form-associated elements (HTML §4.13.7.3): updates value and validity when the author's methods have a changed
 * dependency.
 */
import { always, dirty, listening } from '../signals/flags.ts';
import { needGraph } from '../signals/least.ts';
import { report } from '../signals/report.ts';
import { type Link, type Member, state } from '../signals/state.ts';
import { callHook, type HookName } from './call-hook.ts';
import { coreKey, type HasLife } from './core-key.ts';
import { parentAcross } from './parent-across.ts';
import { atForm } from './part.ts';
import type { FormSide, Living, Part } from './plan.ts';

/** The return type of `formValue()`: what is submitted, or null for nothing. */
export type FormValue = string | File | FormData | null;

/** The return type of `validate()`; null if the element is valid. */
export interface ValidityProblem {
  /** The standard's flags, for example `{ valueMissing: true }`. */
  readonly flags: ValidityStateFlags;
  /** The message for the user; it may not be empty. */
  readonly message: string;
  /** The element inside the view to which the browser points, or its handle. */
  readonly anchor?: HTMLElement | { readonly element: Element | null } | null;
}

interface FormMethods {
  formValue?(): FormValue;
  validate?(): ValidityProblem | null | undefined;
}

/** One of the two methods. It runs synchronously: its result is set before an assignment returns. */
class FormReaction implements Member {
  flags = listening | dirty | always;
  mask = 0;
  sources: Link | undefined = undefined;
  tail: Link | undefined = undefined;
  declare describe?: () => string;

  constructor(
    readonly home: Living,
    readonly bring: () => void,
  ) {}

  marked(): undefined {
    state.graph!.prompt(this);
  }

  react(): void {
    // An anchor may be in a part of the view that has changed.
    if (this.home.shown && this.home.stale !== 0) this.home.look();
    this.mask = 0;
    try {
      state.graph!.evaluate(this, this.bring);
    } catch (error) {
      report(error, this.home.host);
    }
    if (!this.home.shown) state.graph!.leave(this.home);
  }
}

if (__DEV__) {
  FormReaction.prototype.describe = function (this: FormReaction) {
    return `the form value of <${this.home.host.localName}>`;
  };
}

/** Value and validity of one element. */
class Form implements FormSide {
  readonly #core: Living;
  readonly #reactions: FormReaction[] = [];

  constructor(core: Living) {
    needGraph();
    this.#core = core;
    const host = core.host as HTMLElement & FormMethods;
    if (host.formValue)
      this.#reactions.push(new FormReaction(core, () => core.getInternals().setFormValue(host.formValue!())));
    if (host.validate) this.#reactions.push(new FormReaction(core, () => this.#setValidity(host.validate!())));
  }

  changed(bits: number): void {
    for (const reaction of this.#reactions) {
      if ((reaction.mask & bits) === 0) continue;
      // In an element that is not connected, it stays marked if it depends on something outside.
      if (reaction.flags & dirty && this.#core.shown) continue;
      reaction.flags |= dirty;
      state.graph!.prompt(reaction);
    }
  }

  refresh(): void {
    for (const reaction of this.#reactions) state.graph!.rerun(reaction);
  }

  /** The view exists, so that anchors can be found. */
  again(): void {
    for (const reaction of this.#reactions) reaction.flags |= dirty;
    this.refresh();
  }

  #setValidity(problem: ValidityProblem | null | undefined): void {
    const internals = this.#core.getInternals();
    if (!problem) {
      internals.setValidity({});
      return;
    }
    const { flags, message, anchor } = problem;
    const element =
      anchor && 'element' in anchor && !('nodeType' in anchor)
        ? anchor.element
        : (anchor as HTMLElement | null | undefined);
    if (element && isInside(this.#core.host, element)) internals.setValidity(flags, message, element as HTMLElement);
    else internals.setValidity(flags, message);
  }
}

/** Whether an element is a shadow-including descendant of the host, as an anchor has to be. */
function isInside(host: HTMLElement, element: Element): boolean {
  for (let node: Node | undefined = element; node; node = parentAcross(node)) if (node === host) return true;
  return false;
}

const formOf = (element: HasLife) => {
  const core = element[coreKey];
  core.form!.refresh();
  return core.getInternals();
};
const read = (name: 'form' | 'labels' | 'validity' | 'validationMessage' | 'willValidate'): PropertyDescriptor => ({
  get(this: HasLife) {
    return formOf(this)[name];
  },
  enumerable: true,
  configurable: true,
});
const call = (name: 'checkValidity' | 'reportValidity'): PropertyDescriptor => ({
  value(this: HasLife) {
    return formOf(this)[name]();
  },
  enumerable: true,
  configurable: true,
  writable: true,
});
const callback = (name: HookName): PropertyDescriptor => ({
  value(this: HasLife, ...args: unknown[]) {
    if (name === 'formAssociated') formOf(this);
    callHook(this[coreKey], name, ...args);
  },
  configurable: true,
  writable: true,
});

/** The members of the standard's controls (HTML §4.10.18.5 and §4.10.21.3), and their callbacks. */
const formMembers: PropertyDescriptorMap = {
  form: read('form'),
  labels: read('labels'),
  validity: read('validity'),
  validationMessage: read('validationMessage'),
  willValidate: read('willValidate'),
  checkValidity: call('checkValidity'),
  reportValidity: call('reportValidity'),
  formAssociatedCallback: callback('formAssociated'),
  formDisabledCallback: callback('formDisabled'),
  formResetCallback: callback('formReset'),
  formStateRestoreCallback: callback('formStateRestore'),
};

/** For form-associated elements. */
export const formPart: Part<Living> = {
  at: atForm,
  construct(core) {
    // Another document may not know the element, so internals are attached now (HTML §4.13.7.1).
    core.getInternals();
    core.form = new Form(core);
  },
  assemble: core => (core.form as Form).again(),
  connect: core => core.form!.refresh(),
  extend(Class) {
    Object.defineProperty(Class, 'formAssociated', { value: true });
    Object.defineProperties(Class.prototype, formMembers);
  },
};
