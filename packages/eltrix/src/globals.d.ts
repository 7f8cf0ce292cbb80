/** Whether development messages are in: the library's build writes true or false here and drops what is dead. */
declare const __DEV__: boolean;
