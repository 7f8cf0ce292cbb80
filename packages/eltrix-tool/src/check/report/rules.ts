/** The rules by group, with descriptions for reports. */
export const ruleGroups: readonly { readonly title: string; readonly rules: Readonly<Record<string, string>> }[] = [
  {
    title: 'Quiet',
    rules: {
      'console-quiet': 'writes nothing to the console',
      'policy-kept': 'works under a strict policy',
      'own-host': 'requests no other host',
    },
  },
  {
    title: 'Creation',
    rules: {
      'made-alike': 'is the same however it is created',
      'constructor-bare': 'adds nothing in its constructor',
      'early-properties': 'keeps properties set early',
      'attribute-order': 'accepts attributes in any order',
    },
  },
  {
    title: 'Attributes',
    rules: {
      reflection: 'reflects as its kinds say',
      'bad-value': 'uses defaults for bad values',
      'removal-default': 'uses the default after a removal',
      'no-loop': 'does not loop when written back',
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
      'no-doubling': 'is not doubled when reconnected',
      'works-after-move': 'reacts as before when reconnected',
      'gives-back': 'releases listeners and timers',
      'not-kept-alive': 'can be garbage collected',
      'state-kept': 'keeps its state when moved',
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
      'form-validity': 'reports its validity',
      'form-restore': 'restores its state',
    },
  },
  {
    title: 'Access',
    rules: {
      'name-role': 'gives names and roles',
      audit: 'passes the accessibility audit',
      'keyboard-reach': 'is keyboard accessible',
      'focus-visible': 'shows the focus',
      'right-to-left': 'works from right to left',
      'large-text': 'fits text of 200 %',
    },
  },
  {
    title: 'Build',
    rules: {
      'compiled-alike': 'is the same when compiled',
      'rendered-alike': 'is the same when rendered',
      budget: 'is within its budget',
      pictures: 'matches its accepted pictures',
    },
  },
];

export const ruleCodes: readonly string[] = ruleGroups.flatMap(({ rules }) => Object.keys(rules));
