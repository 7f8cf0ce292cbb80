/** The rules by group, for reports, in the words of people. */
export const ruleGroups: readonly { readonly title: string; readonly rules: Readonly<Record<string, string>> }[] = [
  {
    title: 'Quiet',
    rules: {
      'console-quiet': 'says nothing on the console',
      'policy-kept': 'keeps a strict content security policy',
      'own-host': 'asks no other host',
    },
  },
  {
    title: 'Creation',
    rules: {
      'made-alike': 'is the same however it is made',
      'constructor-bare': 'adds nothing in its constructor',
      'early-properties': 'takes over properties set before its definition',
      'attribute-order': 'takes its attributes in any order',
    },
  },
  {
    title: 'Attributes',
    rules: {
      reflection: 'reflects each attribute as its kind says',
      'bad-value': 'turns bad values into defaults',
      'removal-default': 'goes back to the default when an attribute is removed',
      'no-loop': 'comes to rest when a handler writes back',
    },
  },
  {
    title: 'Events',
    rules: {
      'event-declared': 'sends declared events only',
      'event-flags': 'sends them as they are declared',
      'event-detail': 'sends details that can be cloned',
    },
  },
  {
    title: 'Structure',
    rules: {
      'slots-there': 'has its declared slots, and no others',
      'parts-there': 'has its declared parts, and no others',
      'slot-fallback': 'shows the fallback of an empty slot',
      'slot-kept': 'keeps slotted content over updates',
      'custom-properties': 'uses its custom properties, and declares those it uses',
    },
  },
  {
    title: 'Life',
    rules: {
      'no-doubling': 'doubles nothing when it comes back',
      'gives-back': 'gives back what it took',
      'not-kept-alive': 'is let go when nobody has it',
      'state-kept': 'keeps its state over moves',
      adoption: 'works in another document',
    },
  },
  {
    title: 'Isolation',
    rules: {
      'instances-apart': 'shares nothing between instances',
      'ids-apart': 'has ids that do not clash',
      'nothing-global': 'registers nothing global',
      'styles-in': 'is untouched by the page’s styles',
      'styles-out': 'leaves the page’s styles alone',
    },
  },
  {
    title: 'Forms',
    rules: {
      'form-submit': 'submits a value',
      'form-reset': 'resets',
      'form-disabled': 'is disabled by a fieldset',
      'form-validity': 'tells its validity',
      'form-restore': 'takes back a kept state',
    },
  },
  {
    title: 'Access',
    rules: {
      'name-role': 'gives names and roles',
      audit: 'passes the accessibility audit',
      'keyboard-reach': 'is reached by the keyboard',
      'focus-visible': 'shows the focus',
      'right-to-left': 'reads from right to left',
      'large-text': 'holds text of 200 %',
    },
  },
  {
    title: 'Build',
    rules: {
      'compiled-alike': 'is the same when compiled',
      budget: 'keeps its budget',
    },
  },
];

export const ruleCodes: readonly string[] = ruleGroups.flatMap(({ rules }) => Object.keys(rules));
