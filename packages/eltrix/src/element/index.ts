export { type ContractClass, contract, type ElementOf } from './contract.ts';
export { type LoggedChange, logChanges, markPerformance } from './debug.ts';
export type { FormValue, ValidityProblem } from './form.ts';
export { type Inspection, inspect } from './inspect.ts';
export type { Problem } from './messages.ts';
export type { Resource, Scope } from './scope.ts';
export type { SlottedOptions } from './slots.ts';
export { type StyleSheets, type StyleSource, type StyleText, stylesheet } from './styles.ts';
export type { ElementBase, ElementStatics, Emits, FormMembers, Hooks, Listeners } from './types.ts';
