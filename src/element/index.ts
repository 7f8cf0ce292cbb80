export { type ContractClass, contract, type ElementOf } from './contract.ts';
export type { Problem } from './messages.ts';
export type { Resource, Scope } from './scope.ts';
export { type StyleSource, type StyleText, stylesheet } from './styles.ts';
export type { ElementBase, Hooks } from './types.ts';
