/** Bits of a target's `flags`. */

/** A direct dependency has changed: it has to run again. */
export const dirty = 1;
/** A dependency of a dependency may have changed: compare versions before running. */
export const check = 2;
/** It is running. */
export const running = 4;
/** Its links are in the lists of its sources: an effect, or a computed with subscribers. */
export const listening = 8;
/** A stopped effect. */
export const stopped = 16;
/** A computed. */
export const derives = 32;
/** It has dependencies outside its owner, and is in the owner's list of such members. */
export const outside = 64;
/** A computed whose value is an error. */
export const failed = 128;
/** An effect that also runs while its owner is disconnected. */
export const always = 256;
/** An effect created inside another effect. */
export const within = 512;
/** A computed whose sources are being validated: meeting it again means a cycle. */
export const looking = 1024;
