/**
 * `node --test --import eltrix-tool/testing/simulated`: tests of elements in Node, in a simulated DOM, as far as it
 * supports them.
 */
import { afterEach } from 'node:test';
import { installSimulatedDom, loadAxe } from './engines/simulated-dom.ts';

installSimulatedDom();

let endings: (() => unknown)[] = [];
afterEach(async () => {
  const now = endings;
  endings = [];
  for (const end of now) await end();
});

Object.assign(globalThis, {
  [Symbol.for('eltrix.testing.1')]: {
    environment: { engine: 'simulated', compiled: false, production: false, project: '/' },
    trusted: false,
    command: () => Promise.resolve(null),
    loadAxe,
    onEnd: (fn: () => unknown) => void endings.unshift(fn),
  },
});
