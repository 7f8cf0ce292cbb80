/** The value of an attribute of a parsed element; undefined if the element does not have it. */
export function attributeOf(
  { attrs }: { readonly attrs: readonly { readonly name: string; readonly value: string }[] },
  name: string,
): string | undefined {
  for (const attribute of attrs) if (attribute.name === name) return attribute.value;
  return undefined;
}
