import { InvalidArgumentError } from 'commander';

/** Reads the value of an option that takes a whole number. */
export const whole = (option: string) => (value: string) => {
  if (!/^\d+$/.test(value)) throw new InvalidArgumentError(`${option} takes a whole number, for example ${option} 3.`);
  return Number(value);
};
