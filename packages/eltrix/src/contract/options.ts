/**
 * Development: refuses options that do not exist, which would be ignored.
 * @param name the function that takes them.
 * @throws TypeError that lists the options there are.
 */
export function refuseUnknown(name: string, options: object, known: readonly string[]): void {
  for (const key of Object.keys(options)) {
    if (known.includes(key)) continue;
    const instead =
      key === 'default' && name === 'text'
        ? " Without the attribute the property is '': write this.label || 'Rating' where it shows."
        : '';
    throw new TypeError(`(option-unknown): ${name}() has no option "${key}".${instead} It has ${known.join(', ')}.`);
  }
}
