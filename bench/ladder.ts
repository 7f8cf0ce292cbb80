/** npm run bench:ladder: what an element pays for what it uses, in brotli's bytes. */
import { handWeight, rungs, rungWeight } from './ladder-sizes.ts';

console.log(`${'by hand'.padEnd(52)}${String(await handWeight()).padStart(6)} B`);
let plain = 0;
for (const [rung, what, most] of rungs) {
  const whole = rungWeight(rung);
  if (rung === 'plain') plain = whole;
  const isWhole = rung === 'plain' || rung === 'all';
  const told = isWhole ? whole : whole - plain;
  const label = isWhole ? what : `+ ${what}`;
  console.log(
    `${label.padEnd(52)}${String(told).padStart(6)} B  at most ${String(most).padStart(5)}${told > most ? `  ${told - most} too many` : ''}`,
  );
}
