/** What each stage is held to by the tests, in words. */
export const MEASURES: Readonly<Record<string, readonly string[]>> = {
  echo: [
    'The first repeat lies within a sample of the set time.',
    'Each further repeat is smaller by the feedback, within 0.1 dB.',
    'The cuts act once a pass: the n-th repeat shows n times their decibels; without them no more than 0.1 dB is lost at 15 kHz a pass while nothing moves.',
    'Drive leaves soft repeats at the set feedback, and loud ones within 1 dB of it.',
    'At 110 % for a minute it stays below +6 dBFS, without direct current.',
    'Middle and sides are apart: a mono sound gives nothing at the time of the sides.',
    'A new time makes no step by crossfade or cut, and bends the pitch by glide.',
  ],
  pitchEcho: [
    'The k-th repeat lies k steps away, within 3 cents.',
    'Backwards, pieces as long as the time are turned round.',
  ],
  hall: [
    'Falls by 60 dB in the set decay, within 10 %, in every octave from 250 Hz to 4 kHz, over the whole scale of decay and size.',
    'Keeps the energy of an impulse within 3 dB, whatever the decay and size.',
    'More than 1000 echoes a second after 100 ms.',
    'No mode rings: none stands out of its surroundings by 6 dB, at any size and movement.',
  ],
  plate: [
    'Falls by 60 dB in the set decay, within 15 %, over the whole scale; with damping at 20 kHz in every octave from 500 Hz to 4 kHz.',
    'A sound that lasts is as loud with a short decay as with a long one, within 1.5 dB.',
    'Left and right of its tail correlate by less than 0.3.',
  ],
  room: [
    'The direct sound and the first six reflections arrive within a sample of the geometry, as loud as 1/r.',
    'The late part dies as Eyring’s formula says, within 25 %.',
  ],
  convolve: ['Equals direct convolution to −120 dB.', 'No latency.'],
  flanger: [
    'Notches lie at (k+½)/τ, inverted at k/τ, within 1 %; they are deeper than −30 dB at equal dry and wet.',
    'Peaks at 90 % feedback lie at k/τ, within 1 %.',
    'The dry sound is not late, but through zero, where the stage says by how much.',
  ],
  ensemble: [
    'Voices are spread evenly over the turn, within a degree.',
    'Summed to mono it loses less than 3 dB.',
    'Silence in, silence out.',
  ],
  phaser: ['Makes half as many notches as it has stages.'],
  vibrato: ['The pitch deviates by the set cents at its most, up and down alike, within 2 %, and does not drift.'],
  tremolo: ['Keeps to the tempo; falls by its depth.'],
  ringMod: [
    'Sine by sine gives the sum and the difference alone; all else is below −90 dB.',
    'With any wave what folds back stays below −70 dB.',
  ],
  shifter: ['The unwanted side band lies below −60 dB from 40 Hz to 16 kHz.'],
  filter: ['Follows its prototype within 0.2 dB up to 0.4 of the sample rate.'],
  equaliser: ['Follows the W3C Audio EQ Cookbook within 0.01 dB.'],
  drive: [
    'Tones of 1–8 kHz at +24 dB: what folds back stays below −70 dB; for folds of high notes at 8×.',
    'Level matched: voice, drums and chord at −18 LUFS stay within 4 dB at any setting, and the level never moves by more than 1 dB for a dB of amount.',
    'The hard shape at −6 dB ends at 0.501, within 0.1 %.',
  ],
  crush: ['b bits are 2 to the power of b levels.'],
  compressor: ['Its curve within 0.2 dB.'],
  gate: ['Open and shut within 0.2 dB.'],
  limiter: ['Never above its ceiling by more than 0.1 dB true peak.'],
  ducker: ['Its curve within 0.2 dB.'],
  transpose: [
    'Steady tones are in tune within 2 cents.',
    'At its defaults a steady tone keeps its level within 1 dB; in mode tones the partials of a chord keep theirs within 2 dB.',
    'With formants kept, those of a vowel of 75–340 Hz move by less than 5.5 % over ±7 semitones.',
  ],
  vocoder: [
    'In each band with a partial of the carrier the gain follows the voice’s envelope, smoothed as set: correlation at least 0.95, within 10 ms; where the voice glides from one band into the next, 0.85.',
  ],
  stutter: [
    'Repeats begin on the grid within a sample.',
    'At no joint is the step larger than the sound’s own largest.',
  ],
  grains: [
    'As many grains a second as are set, within 2 %.',
    'The level stays within 1.5 dB from 10 to 100 grains a second, on noise and on tones.',
  ],
  pattern: ['Steps stand on the grid within a sample.'],
  tapeStop: [
    'The tape that has gone by is the integral of the speed, within a sample.',
    'Pitch and speed fall together; nothing clicks above −60 dB at either end; mono stays mono.',
  ],
  halfTime: [
    'Windows begin on the bar, within a sample.',
    'A loop of whole windows stays as long as it is; mono stays mono.',
  ],
  split: ['Frequency bands add up flat within 0.1 dB.'],
  reverse: ['Twice is the sound itself, bit for bit.'],
  bend: [
    'A sine follows the curve within 3 cents.',
    'Free, it lasts as long as the integral of the inverse speed, within a frame.',
  ],
  speed: ['Aliases and images lie below −96 dB.'],
  stretch: [
    'As long as it is set, to the frame; a sine stays within a cent.',
    'The clicks of a train keep their times within 5 ms.',
  ],
  smear: [
    'No ripple at the rate of its windows above −40 dB.',
    'As long as it is set; the same memory however long.',
    'A window longer than the clip is refused.',
  ],
  settlePitch: [
    'A voice that glides from G3 to B3 comes to A3 within 5 cents at every moment.',
    'Octave errors in less than 0.5 % of what has a pitch.',
  ],
  trim: ['What is left lies where it lay.'],
  silence: ['Outside the stretch every sample is as it was.'],
  crossfade: ['No step at the seam, and the fade is as loud as the rest.'],
  normalise: ['Within 0.1 of what is set: dBFS, dBTP, LUFS after ITU-R BS.1770.'],
  slices: [
    'Without stages and in order it is the sound itself.',
    'Attacks of a drum pattern: F-measure of at least 0.95 within 10 ms.',
    'Notes that rise in 3 to 1,000 ms are cut no later than 20 dB below their height, or 10 ms after they are 6 dB over what rang before, and at most 22 ms early.',
  ],
};
