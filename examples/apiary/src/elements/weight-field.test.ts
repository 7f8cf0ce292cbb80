import assert from 'node:assert/strict';
import { it } from 'node:test';
import { audit, deep, environment, stage, user } from 'eltrix-tool/testing';
import type { WeightField } from './weight-field.ts';
import './weight-field.ts';

const markup = '<form><weight-field name="kg" label="Frame 3" value="2"></weight-field></form>';
const field = async () => {
  const form = await stage<HTMLFormElement>(markup);
  return { form, field: form.querySelector<WeightField>('weight-field')! };
};

it('is submitted, and goes back on reset', async () => {
  const { form, field: weight } = await field();
  await user.click(deep('button[aria-label=More]', weight));
  assert.equal(weight.value, 2.5);
  if (environment.engine === 'simulated') return;
  assert.equal(new FormData(form).get('kg'), '2.5');
  form.reset();
  assert.equal(weight.value, 2);
});

it('says when a weight cannot be', async () => {
  const { field: weight } = await field();
  weight.value = 95;
  assert.equal(weight.validationMessage, 'No box weighs more than 80 kg.');
});

it('audits well', async () => {
  await audit((await field()).form);
});
