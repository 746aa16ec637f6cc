import { roomPicture } from './roomPicture.ts';
import { defineLiveStage } from '../../contract.ts';
import { choice, level, number, ratio, time, toggle } from '../../../params/params.ts';
import { SURFACE_NAMES, eyringTime, meanAbsorption, SURFACES } from './geometry.ts';
import { roomRise } from './roomRise.ts';
import { MOST_METRES, RoomProcessor } from './roomProcessor.ts';
import { words } from '../../../model/words.ts';

const metres = (label: string, value: number, doc: string) =>
  number({ label, unit: 'm', default: value, min: 1.5, max: MOST_METRES, curve: 'log', doc });
const share = (label: string, value: number, doc: string) =>
  ratio({ label, default: value, min: 0.02, max: 0.98, doc });

export const room = defineLiveStage({
  kind: 'room',
  family: 'space',
  title: 'Room reverb',
  summary: 'A room by its measurements: what its walls reflect from where the source stands to where the listener is.',
  keywords: words(
    'shoebox, reverb, reflections, small, chamber, box, stairwell, bathroom, place, distance, early reflections, late reverb, small room, geometry, image source, position, absorption, walls, corridor, tunnel, indoor',
  ),
  mixLaw: 'linear',
  widens: true,
  params: {
    length: metres('length', 7, 'From the back wall to the front. Longer spreads the reflections out.'),
    width: metres('width', 5, 'From the left wall to the right.'),
    height: number({
      unit: 'm',
      label: 'height',
      default: 3,
      min: 1.5,
      max: 30,
      curve: 'log',
      doc: 'From the floor to the ceiling.',
    }),
    sourceAlong: share('source front–back', 0.75, 'Where the source stands between the back wall (0 %) and the front.'),
    sourceAcross: share(
      'source left–right',
      0.45,
      'Where the source stands between the left wall (0 %) and the right.',
    ),
    sourceHeight: share('source height', 0.5, 'How high the source stands between floor and ceiling.'),
    listenerAlong: share(
      'listener front–back',
      0.35,
      'Where the listener is between the back wall (0 %) and the front.',
    ),
    listenerAcross: share(
      'listener left–right',
      0.5,
      'Where the listener is between the left wall (0 %) and the right.',
    ),
    listenerHeight: share('listener height', 0.5, 'How high the listener is between floor and ceiling.'),
    walls: choice(SURFACE_NAMES, {
      default: 'plaster',
      doc: 'What the walls are made of. Hard ones ring, soft ones swallow.',
    }),
    floor: choice(SURFACE_NAMES, { default: 'wood', doc: 'What the floor is made of.' }),
    ceiling: choice(SURFACE_NAMES, { default: 'plaster', doc: 'What the ceiling is made of.' }),
    direct: level({
      label: 'direct level',
      default: 0,
      min: -96,
      max: 6,
      doc: 'The sound that comes straight from the source.',
    }),
    reflections: level({
      label: 'early reflections',
      default: 0,
      min: -96,
      max: 6,
      doc: 'Level of what comes from the walls by up to three reflections.',
    }),
    late: level({
      label: 'late reverb level',
      default: -3,
      min: -96,
      max: 6,
      doc: 'Level of what comes after those: the reverb of the room.',
    }),
    ownDecay: toggle({
      label: 'manual decay time',
      default: false,
      doc: 'Sets the decay time by hand instead of by the room.',
    }),
    decay: time({
      label: 'decay time',
      default: 0.6,
      min: 0.1,
      max: 20,
      doc: 'RT60: time until the late reverb has fallen by 60 dB, when set by hand.',
    }),
    preDelay: time({
      label: 'pre-delay',
      default: 0,
      min: 0,
      max: 0.3,
      curve: 'linear',
      doc: 'Silence before the walls answer.',
    }),
    lowTone: level({
      label: 'low shelf',
      default: 0,
      min: -12,
      max: 12,
      doc: 'Boosts or cuts the lows of all that the room adds.',
    }),
    highTone: level({
      label: 'high shelf',
      default: 0,
      min: -12,
      max: 12,
      doc: 'Boosts or cuts the highs of all that the room adds.',
    }),
  },
  groups: {
    dimensions: ['length', 'width', 'height'],
    source: ['sourceAlong', 'sourceAcross', 'sourceHeight'],
    listener: ['listenerAlong', 'listenerAcross', 'listenerHeight'],
    surfaces: ['walls', 'floor', 'ceiling'],
    levels: ['direct', 'reflections', 'late'],
    'late reverb': ['ownDecay', 'decay', 'preDelay'],
    tone: ['lowTone', 'highTone'],
  },
  picture: ({ values }) => roomPicture(values),
  exempt: [
    { trial: 'block length', within: 0.05, because: 'some of its values move in straight lines from block to block' },
  ],
  heldTo: [
    {
      what: 'The direct sound and the first six reflections, as loud as 1/r, arrive as the geometry says',
      limit: ['within', 1, 'sample'],
      how: 'on an impulse',
    },
    {
      what: 'The late part decays by Eyring’s formula',
      limit: ['within', 25, '%'],
      how: 'after ISO 3382, on an impulse',
    },
  ],
  mayRise: {
    by: 'its parts together, and more in small hard rooms',
    most: roomRise,
  },
  tailSeconds: (values) => {
    const absorption = meanAbsorption(
      values,
      SURFACES[values.walls][0],
      SURFACES[values.floor][0],
      SURFACES[values.ceiling][0],
    );
    const decay = values.ownDecay ? values.decay : Math.min(20, Math.max(0.1, eyringTime(values, absorption)));
    return 1.1 * decay + values.preDelay + 0.3;
  },
  create: (context, values) => new RoomProcessor(context, values),
});
