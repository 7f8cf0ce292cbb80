/** What is known of a target: bits of its `flags`. */

/** A direct source changed: run again. */
export const dirty = 1;
/** Something further up changed: look at the versions of the sources first. */
export const check = 2;
/** It is being evaluated. */
export const running = 4;
/** Its links are listed with their sources: an effect, or a computed that one needs. */
export const listening = 8;
/** It is an effect that has been stopped. */
export const stopped = 16;
/** It is a computed. */
export const derives = 32;
/** It read something beyond its home, which notes it. */
export const outside = 64;
/** A computed whose value is an error. */
export const failed = 128;
/** An effect that runs also while its home is not shown. */
export const always = 256;
/** An effect that was made inside another. */
export const within = 512;
/** A computed whose sources are being looked at: meeting it again there is a cycle. */
export const looking = 1024;
