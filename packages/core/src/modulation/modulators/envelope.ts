import { curve, toggle } from '../../params/params.ts';
import { curveAt, type Breakpoints } from '../curve.ts';
import { NO_INPUT, defineModulator } from './contract.ts';
import { words } from '../../model/words.ts';

export const envelope = defineModulator({
  kind: 'envelope',
  title: 'Breakpoint envelope',
  summary: 'Follows a curve that is drawn once and can modulate many parameters.',
  keywords: words(
    'breakpoints, drawn, shape, curve, swell, fade, envelope, automation, breakpoint, ramp, multi-segment, line',
  ),
  polarity: 'up',
  params: {
    curve: curve({
      unit: 'ratio',
      min: 0,
      max: 1,
      default: {
        over: 'clip',
        points: [
          { at: 0, value: 0, bend: 0 },
          { at: 1, value: 1, bend: 0 },
        ],
      },
      doc: 'Its course, over the clip, in seconds or in beats.',
    }),
    loop: toggle({ default: false, fixed: true, doc: 'Loops when its last point is reached.' }),
  },
  create({ sampleRate, span }, values) {
    const output = new Float64Array(2);
    const way = values['curve'] as Breakpoints;
    const loop = values['loop'] as boolean;
    const length = way.points[way.points.length - 1].at;
    const origin = way.over === 'clip' ? span.start : 0;
    const unit = way.over === 'clip' ? Math.max(1, span.end - span.start) : sampleRate;
    return {
      output,
      start(position, now) {
        this.advance(NO_INPUT, 0, 0, position, now);
      },
      advance(_input, _at, frames, position) {
        const place = (position + frames - origin) / unit;
        const turned = loop && length > 0 && place > 0 ? place - Math.floor(place / length) * length : place;
        output[0] = curveAt(way, turned);
        output[1] = output[0];
      },
    };
  },
});
