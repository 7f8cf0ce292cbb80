import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { audit, deep, recordEvents, stage, user } from 'eltrix-tool/testing';
import type { HiveCard } from './hive-card.ts';
import './hive-card.ts';

describe('a hive card', () => {
  it('shows its name, and a stand-in without one', async () => {
    const card = await stage<HiveCard>('<hive-card name="Rosemary"></hive-card>');
    assert.equal(deep('h3', card).textContent, 'Rosemary');
    card.name = '';
    await Promise.resolve();
    assert.equal(deep('h3', card).textContent, 'Unnamed hive');
  });

  it('sends an event when it is opened', async () => {
    const card = await stage<HiveCard>('<hive-card name="Bramble"></hive-card>');
    const log = recordEvents(card, 'hive-open');
    await user.click(deep('button', card));
    assert.deepEqual(log.details, [{ name: 'Bramble' }]);
  });

  it('adds up the honey of its frames', async () => {
    const card = await stage<HiveCard>('<hive-card></hive-card>');
    card.frames = [
      { id: 1, honey: 2.5, capped: true },
      { id: 2, honey: 1, capped: false },
    ];
    assert.equal(card.honey, 3.5);
  });

  it('audits well', async () => {
    await audit(await stage('<hive-card name="Old Tin" mood="busy"><p>Quiet.</p></hive-card>'));
  });
});
