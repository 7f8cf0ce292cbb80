import { isSignal } from '../signals/kind-of.ts';

/** Development: signals and computeds are called as the fields that hold them, in messages, logs and `inspect`. */
export function nameFields(host: object): void {
  for (const [field, value] of Object.entries(host)) {
    if (!isSignal(value)) continue;
    const named = value as { name?: string | undefined };
    try {
      named.name ??= field;
    } catch {
      // One that is not this library's, and whose name is fixed.
    }
  }
}
