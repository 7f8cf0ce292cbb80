/** How a page recognises a contract class, also one that another copy of this module made. */
export const contractKey: unique symbol = Symbol.for('eltrix.contract.2') as never;
