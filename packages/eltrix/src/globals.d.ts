/** Whether development messages are in: the library's build writes true or false here and drops what is dead. */
declare const __DEV__: boolean;
/**
 * Whether views that a server has rendered are taken over. Only files for compiled elements of a build without
 * `render: true` have it false.
 */
declare const __RENDERED__: boolean;
