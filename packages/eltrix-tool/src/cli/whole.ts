import { isIP } from 'node:net';
import { InvalidArgumentError } from 'commander';

/** Parses the value of an option that takes a whole number. */
export const whole =
  (option: string, least = 0, most = Number.MAX_SAFE_INTEGER) =>
  (value: string) => {
    const number = /^\d+$/.test(value) ? Number(value) : Number.NaN;
    if (number >= least && number <= most) return number;
    const range = most < Number.MAX_SAFE_INTEGER ? ` from ${least} to ${most}` : least > 0 ? ` from ${least} on` : '';
    throw new InvalidArgumentError(
      `${option} takes a whole number${range}, for example ${option} ${Math.max(least, 3)}.`,
    );
  };

/** A port (RFC 6335 §6). */
export function port(value: string): number {
  const number = Number(value);
  if (/^\d+$/.test(value) && number < 65536) return number;
  throw new InvalidArgumentError('It takes a number up to 65535, for example --port 5180.');
}

/** An address to listen on: IPv4, IPv6, or localhost. */
export function host(value: string): string {
  if (value === 'localhost' || isIP(value)) return value;
  throw new InvalidArgumentError('It takes an IP address, for example --host 0.0.0.0.');
}
