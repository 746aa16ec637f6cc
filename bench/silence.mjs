// Long silence behind a sound: no stage may cost more in it than while it sounds.
import * as core from './core.mjs';
import { LiveEngine } from './core.mjs';

const RATE = 48000;
/** Stages that do something else as time goes on, held to one thing. */
const STEADY = { tapeStop: { stop: false }, stutter: { on: false } };
/** The ways of a loop that dies away slowly. */
const RINGING = { echo: { time: 0.02, secondTime: 0.03, feedback: 0.8 }, flanger: { feedback: 0.9 } };
const SECONDS = 20;
/** A stage is looked at again, this often at the most, until it costs no more than this. */
const ATTEMPTS = 4;
const ENOUGH = 1.05;

/** Microseconds a second of sound, and in the costliest of the seconds of silence behind it. */
function costs(stage, noise) {
  const settings = { ...STEADY[stage.kind], ...RINGING[stage.kind] };
  const chain = core.parseChain(core.BUILT_INS, {
    ...core.emptyChain(core.BUILT_INS, 'Silence'),
    stages: [{ id: 'a', kind: stage.kind, settings }],
  });
  const engine = new LiveEngine(core.BUILT_INS, RATE);
  engine.load('work', { head: core.headOfClip(noise), plan: core.planStages(core.BUILT_INS, chain, RATE), gain: 0 });
  engine.listen('work');
  engine.play(0, undefined, Infinity);
  const block = [new Float32Array(128), new Float32Array(128)];
  const second = () => {
    const began = performance.now();
    for (let at = 0; at < RATE; at += 128) engine.process(block[0], block[1], 128);
    return performance.now() - began;
  };
  second(); // warms up
  const sound = Math.min(second(), second());
  second(); // in part sound
  const silence = Array.from({ length: SECONDS }, second);
  // The machine has other things to do now and then: of three neighbours the middle one counts.
  const steady = silence.slice(2).map((_, n) => [...silence.slice(n, n + 3)].sort((a, b) => a - b)[1]);
  return { sound, silence: Math.max(...steady) };
}

export function benchmarkSilence() {
  const random = core.createRandom(1);
  const side = () => Float32Array.from({ length: 3.5 * RATE }, () => random() - 0.5);
  const noise = { sampleRate: RATE, origin: 0, channels: [side(), side()] };
  const ratios = core.BUILT_INS.stages
    .filter(({ runs }) => runs === 'live')
    .map((stage) => {
      // A stage that grows dear in silence does so each time; a machine with other things to do does not.
      let ratio = Infinity;
      for (let attempt = 0; attempt < ATTEMPTS && ratio > ENOUGH; attempt++) {
        const { sound, silence } = costs(stage, noise);
        ratio = Math.min(ratio, silence / sound);
      }
      return { kind: stage.kind, ratio };
    });
  ratios.sort((a, b) => b.ratio - a.ratio);
  const shown = ratios.slice(0, 3).map(({ kind, ratio }) => `${kind} ${ratio.toFixed(2)}`);
  return [['silence behind a sound, cost over that of the sound, worst three stages', shown.join(', ')]];
}
