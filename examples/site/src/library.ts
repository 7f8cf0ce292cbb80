/** All of the library for examples, in one file. */
export * from 'eltrix';
export * from 'eltrix/behaviours';
export * from 'eltrix/context';
export * from 'eltrix/language';
export * from 'eltrix/routes';
export * from 'eltrix/store';
export * from 'eltrix/views';
