/**
 * A process of its own in which sounds that come in are gone through. Their decoders are the only code here that what
 * strangers send may break or swell, so they can be ended from outside.
 */
import { answerOf } from './soundFile.ts';
import { takeSound } from './takeSound.ts';
import type { FromTaking, TakeOrder } from './tasks.ts';

/** Milliseconds between two signs of life. */
const INTERVAL = 250;

const tell = (message: FromTaking) => void process.send?.(message);

process.on('message', (order: TakeOrder) => {
  let told = 0;
  const alive = () => {
    if (Date.now() - told < INTERVAL) return;
    told = Date.now();
    tell({ type: 'alive' });
  };
  void answerOf(() => takeSound(order, alive)).then((answer) => tell({ type: 'answer', answer }));
});
// Nobody is there any more who would want an answer.
process.on('disconnect', () => process.exit());
tell({ type: 'ready' });
