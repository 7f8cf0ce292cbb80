/** Advice for failures of elements not made with Eltrix, in terms of the platform. */
export const platformAdvice: Readonly<Record<string, string>> = {
  'console-quiet': 'Fix what the message reports, and remove calls that were for debugging.',
  'policy-kept':
    'Use constructed style sheets (adoptedStyleSheets), CSSOM for single styles, and DOM methods in place of innerHTML, or a Trusted Types policy.',
  'own-host': 'Take the URL from an attribute, or bundle the file.',
  'made-alike':
    'Let what is shown follow from attributes, properties and content only, whenever they come: read them in connectedCallback() and attributeChangedCallback(), and follow children with slotchange or a MutationObserver.',
  'constructor-bare':
    'Move it to connectedCallback(): HTML §4.13.2 lets a constructor add neither attributes nor children. A shadow root may be made there.',
  'early-properties':
    'Take the value over in connectedCallback(): if (Object.hasOwn(this, name)) { const value = this[name]; delete this[name]; this[name] = value; }',
  'attribute-order': 'Read each attribute when it is needed, not when attributeChangedCallback() happens to be called.',
  'event-declared': 'Name it in the manifest: "events": [{ "name": "…" }].',
  'event-detail': 'Put plain data into the detail: no functions, no nodes.',
  'slots-there': 'Keep the slot in the shadow root while its content shows, or correct the manifest: "slots".',
  'parts-there': 'Write part="…" on an element of the shadow root, or correct the manifest: "cssParts".',
  'slot-kept':
    'Change what is around a slot without creating the slot again, and do not change the children of the element.',
  'custom-properties': 'Use it: var(--name, …), or correct the manifest: "cssProperties".',
  'no-doubling':
    'Make the view once, in the constructor or behind a check in connectedCallback(), which is called each time the element is put somewhere.',
  'works-after-move':
    'Add in connectedCallback() the listeners that disconnectedCallback() removes: it is called each time, and the constructor only once.',
  'gives-back':
    'Release it in disconnectedCallback(): removeEventListener() or an AbortController’s signal, clearInterval(), observer.disconnect().',
  'not-kept-alive':
    'Something outside references them: a list, a closure on window or document, a global registry. Remove the reference in disconnectedCallback().',
  'state-kept': 'Set initial values in the constructor, not in connectedCallback(), which is called each time.',
  adoption:
    'Create constructed sheets again for another document (adoptedCallback()), and read this.ownerDocument when it is needed.',
  'instances-apart':
    'Make objects in the constructor, and keep state in the instance, not in the module or on the prototype.',
  'ids-apart': 'Give each element of the view its own id; in light DOM, make it from something of the instance.',
  'nothing-global': 'Keep it in the module, or in the instance; take listeners and timers in connectedCallback().',
  'styles-out': 'Put styles into the shadow root; what is in the page’s head reaches everything.',
  'focus-visible': 'Do not take the outline away, or draw something else for :focus-visible.',
  'form-submit': 'Call internals.setFormValue() whenever the value changes, and once when the element is connected.',
  'form-reset': 'Write formResetCallback(): set the value that it began with.',
  'form-disabled': 'Write formDisabledCallback(disabled): disable the controls in the shadow root.',
  'form-validity':
    'Call internals.setValidity(flags, message, anchor) while it is wrong, and setValidity({}) while it is not.',
  'form-restore': 'Write formStateRestoreCallback(state): set the value that setFormValue() was given.',
};
