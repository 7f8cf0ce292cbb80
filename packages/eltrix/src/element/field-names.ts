import { isSignal } from '../signals/readable.ts';

/** Development: names signals and computeds after the fields that hold them, for messages, logs and `inspect`. */
export function nameFields(host: object): void {
  for (const [field, value] of Object.entries(host)) {
    if (!isSignal(value)) continue;
    const named = value as { name?: string | undefined };
    try {
      named.name ??= field;
    } catch {
      // A signal of another library, whose name is read-only.
    }
  }
}
