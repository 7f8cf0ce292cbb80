const shown = new Set<string>();

/** Development: prints a warning the first time only. */
export function warnOnce(text: string): void {
  if (shown.has(text)) return;
  shown.add(text);
  console.warn(text);
}
