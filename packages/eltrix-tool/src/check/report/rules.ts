/** The rules by group, for reports, in the words of people. */
export const ruleGroups: readonly { readonly title: string; readonly rules: Readonly<Record<string, string>> }[] = [
  {
    title: 'Quiet',
    rules: {
      'console-quiet': 'says nothing on the console',
      'policy-kept': 'keeps a strict policy',
      'own-host': 'asks no other host',
    },
  },
  {
    title: 'Creation',
    rules: {
      'made-alike': 'is the same however it is made',
      'constructor-bare': 'adds nothing in its constructor',
      'early-properties': 'takes over early properties',
      'attribute-order': 'takes its attributes in any order',
    },
  },
  {
    title: 'Attributes',
    rules: {
      reflection: 'reflects as its kinds say',
      'bad-value': 'turns bad values into defaults',
      'removal-default': 'falls back when one is removed',
      'no-loop': 'comes to rest when written back',
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
      'slots-there': 'has its slots, and no others',
      'parts-there': 'has its parts, and no others',
      'slot-fallback': 'shows the fallback of an empty slot',
      'slot-kept': 'keeps slotted content over updates',
      'custom-properties': 'declares the properties it uses',
      'semantics-kept': 'keeps its roles, names and states',
    },
  },
  {
    title: 'Life',
    rules: {
      'no-doubling': 'doubles nothing on return',
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
      'styles-in': 'ignores the styles of the page',
      'styles-out': 'leaves styles of the page alone',
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
      'rendered-alike': 'is the same when rendered',
      budget: 'keeps its budget',
      pictures: 'looks as it was accepted',
    },
  },
];

export const ruleCodes: readonly string[] = ruleGroups.flatMap(({ rules }) => Object.keys(rules));
