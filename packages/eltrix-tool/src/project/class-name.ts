/** The name of a class for a tag: `hive-card` gives `HiveCard`. */
export function classNameFor(tag: string): string {
  return tag
    .split(/[^\p{ID_Continue}]+|_+/u)
    .map(word => word.replace(/^./u, letter => letter.toUpperCase()))
    .join('');
}
