/** Marks a contract class, across copies of this module. */
export const contractKey: unique symbol = Symbol.for('eltrix.contract.2') as never;
