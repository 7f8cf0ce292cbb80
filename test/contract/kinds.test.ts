/** Each attribute kind by the rules of HTML §2.6.1, as a table: text to value, value to text. */
import assert from 'node:assert/strict';
import { readdirSync } from 'node:fs';
import { describe, it } from 'node:test';
import { fileURLToPath } from 'node:url';
import {
  choice,
  clamped,
  custom,
  decimal,
  flag,
  integer,
  json,
  type Kind,
  nonNegative,
  positive,
  positiveDecimal,
  text,
  unsigned,
  url,
} from 'eltrix';
import { kinds } from '../../packages/eltrix-tool/src/project/kinds/index.ts';

const host = { baseURI: 'https://thistlecombe.example/hives/?x#y' };
const leave = Symbol('leaves the attribute as it is');

interface Row {
  readonly kind: Kind<unknown>;
  /** Attribute text (null: absent) to the value read. */
  readonly reads: readonly (readonly [string | null, unknown])[];
  /** Assigned value to the text written, `leave`, or the name of the error thrown. */
  readonly writes: readonly (readonly [unknown, string | null | typeof leave | { throws: string }])[];
}

const type = { throws: 'TypeError' };
const index = { throws: 'IndexSizeError' };
const trickyObject = { toString: () => 'text', valueOf: () => 7 };

const table: Record<string, Row> = {
  text: {
    kind: text(),
    reads: [
      [null, ''],
      ['', ''],
      [' a ', ' a '],
    ],
    writes: [
      ['a', 'a'],
      [null, 'null'],
      [undefined, 'undefined'],
      [7n, '7'],
      [trickyObject, 'text'],
      [Symbol(), type],
    ],
  },
  'text nullable': {
    kind: text({ nullable: true }),
    reads: [
      [null, null],
      ['', ''],
    ],
    writes: [
      [null, null],
      [undefined, null],
      [0, '0'],
    ],
  },
  'text null as empty': {
    kind: text({ nullAsEmpty: true }),
    reads: [[null, '']],
    writes: [
      [null, ''],
      [undefined, 'undefined'],
    ],
  },
  flag: {
    kind: flag(),
    reads: [
      [null, false],
      ['', true],
      ['false', true],
    ],
    writes: [
      [true, ''],
      ['false', ''],
      [0, null],
      [Symbol(), ''],
    ],
  },
  integer: {
    kind: integer({ default: 5 }),
    reads: [
      [null, 5],
      ['7', 7],
      ['\t\n\f\r +7kg', 7],
      ['-0', 0],
      ['2147483648', 5],
      ['-2147483648', -2147483648],
      ['\v7', 5],
      ['\u00a07', 5],
      ['', 5],
      ['-', 5],
      ['0x10', 0],
    ],
    writes: [
      [7.9, '7'],
      [-7.9, '-7'],
      [2 ** 31, '-2147483648'],
      [Number.NaN, '0'],
      [Number.POSITIVE_INFINITY, '0'],
      ['12', '12'],
      [trickyObject, '7'],
      [1n, type],
      [Symbol(), type],
    ],
  },
  'non-negative': {
    kind: nonNegative(),
    reads: [
      [null, -1],
      ['-1', -1],
      ['-0', 0],
      ['2147483647', 2147483647],
      ['2147483648', -1],
    ],
    writes: [
      [0, '0'],
      [-1, index],
      [2 ** 31, index],
      [1n, type],
    ],
  },
  unsigned: {
    kind: unsigned({ default: 9 }),
    reads: [
      [null, 9],
      ['-1', 9],
      ['2147483648', 9],
    ],
    writes: [
      [-1, '9'],
      [2 ** 31, '9'],
      [2 ** 32 + 3, '3'],
    ],
  },
  positive: {
    kind: positive(),
    reads: [
      [null, 1],
      ['0', 1],
      ['20', 20],
    ],
    writes: [
      [0, index],
      [2 ** 31, '1'],
      [3, '3'],
    ],
  },
  'positive with fallback': {
    kind: positive({ fallback: true, default: 2 }),
    reads: [['0', 2]],
    writes: [
      [0, '2'],
      [-1, '2'],
    ],
  },
  clamped: {
    kind: clamped(1, 1000),
    reads: [
      [null, 1],
      ['0', 1],
      ['99999999999999999999', 1000],
      ['x', 1],
    ],
    writes: [
      [0, '0'],
      [5000, '5000'],
      [-1, '1'],
    ],
  },
  decimal: {
    kind: decimal(),
    reads: [
      [null, 0],
      ['1.5e2x', 150],
      ['.5', 0.5],
      ['5.', 5],
      ['5e', 5],
      ['-0', 0],
      ['1e400', 0],
      ['+ 1', 0],
      ['Infinity', 0],
    ],
    writes: [
      [1.5, '1.5'],
      [-0, '0'],
      [1e21, '1e+21'],
      [Number.NaN, type],
      [1n, type],
    ],
  },
  'positive decimal': {
    kind: positiveDecimal({ default: 1 }),
    reads: [
      ['0', 1],
      ['-2', 1],
      ['0.5', 0.5],
    ],
    writes: [
      [0, leave],
      [-1, leave],
      [2.5, '2.5'],
      [Number.POSITIVE_INFINITY, type],
    ],
  },
  choice: {
    kind: choice(['calm', 'Busy'], { missing: 'calm', aliases: { hectic: 'Busy' } }),
    reads: [
      [null, 'calm'],
      ['BUSY', 'Busy'],
      ['HecTic', 'Busy'],
      [' calm', ''],
      ['', ''],
      ['buſy', ''],
    ],
    writes: [
      ['BUSY', 'BUSY'],
      ['no', 'no'],
      [null, 'null'],
    ],
  },
  'choice nullable': {
    kind: choice(['a'], { nullable: true }),
    reads: [
      [null, null],
      ['b', null],
      ['A', 'a'],
    ],
    writes: [
      [null, null],
      [undefined, null],
      ['b', 'b'],
    ],
  },
  url: {
    kind: url(),
    reads: [
      [null, ''],
      ['', 'https://thistlecombe.example/hives/?x'],
      ['a b', 'https://thistlecombe.example/hives/a%20b'],
      ['http://[', 'http://['],
    ],
    writes: [
      ['a', 'a'],
      ['\ud800', '\ufffd'],
    ],
  },
  json: {
    kind: json(),
    reads: [
      [null, null],
      ['{"a":[1,2]}', { a: [1, 2] }],
      ["[{'id': 1, 'say': 'it\\'s \"so\"'}]", [{ id: 1, say: 'it\'s "so"' }]],
    ],
    writes: [
      [{ a: 1 }, '{"a":1}'],
      [undefined, null],
      [() => {}, type],
      [1n, type],
    ],
  },
  custom: {
    kind: custom({ parse: text => text?.length ?? 0, print: (value: number) => (value ? 'x'.repeat(value) : null) }),
    reads: [
      ['abc', 3],
      [null, 0],
    ],
    writes: [
      [2, 'xx'],
      [0, null],
    ],
  },
};

describe('attribute kinds', () => {
  for (const [name, { kind, reads, writes }] of Object.entries(table)) {
    it(`${name} reads`, () => {
      for (const [given, expected] of reads) assert.deepEqual(kind.read(given, host), expected, JSON.stringify(given));
    });
    it(`${name} writes`, () => {
      for (const [given, expected] of writes) {
        if (typeof expected === 'object' && expected !== null)
          assert.throws(() => kind.write(given), { name: expected.throws }, String(given));
        else assert.equal(kind.write(given), expected === leave ? undefined : expected, String(given));
      }
    });
  }

  it('json reports the position of a syntax error', () => {
    const cases: [string, number][] = [
      ['{"a":1,}', 7],
      ['[1 2]', 3],
      ['{"a" 1}', 5],
      ['', 0],
      ['[1,', 3],
      ['nul', 0],
      ['[1]x', 3],
      ['["a\nb"]', 3],
      ['{a:1}', 1],
    ];
    for (const [given, offset] of cases)
      assert.throws(() => json().read(given, host), { name: 'SyntaxError', offset }, given);
    assert.throws(() => json().read('{"honey":1,,}', host), {
      message: '"," is not expected at character 12: {"honey":1,▸,}',
    });
  });
});

it('each kind is described for the tools', () => {
  const folder = fileURLToPath(new URL('../../packages/eltrix/src/contract/kinds', import.meta.url));
  const names = readdirSync(folder).map(file =>
    file.replace(/\.ts$/, '').replace(/-(\w)/g, (_, letter: string) => letter.toUpperCase()),
  );
  assert.deepEqual(Object.keys(kinds).sort(), names.sort());
});
