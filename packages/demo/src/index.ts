/** The Fog Museum: an invented seaside museum of weather, its sounds made by seeded code, its first presets. */
import type { Clip } from '@hexenkessel/core/model';
import { boilerRoomDrums } from './sounds/boilerRoomDrums.ts';
import { foghorn } from './sounds/foghorn.ts';
import { glassHarmonica } from './sounds/glassHarmonica.ts';
import { gulls } from './sounds/gulls.ts';
import { pierBassLine } from './sounds/pierBassLine.ts';
import { rainOnTin } from './sounds/rainOnTin.ts';
import { telegraphClicks } from './sounds/telegraphClicks.ts';
import { tramBell } from './sounds/tramBell.ts';
import { windHarp } from './sounds/windHarp.ts';

export { DEMO_CHAINS } from './chains.ts';
export { MUSEUM_TEMPO } from './synth.ts';

/** A sound that code makes, or one that lies as a file beside this package's code. */
export type DemoSound = { readonly name: string } & ({ readonly create: () => Clip } | { readonly file: URL });

export const DEMO_SOUNDS: readonly DemoSound[] = [
  { name: 'Harbour announcer', file: new URL('../assets/harbour-announcer.wav', import.meta.url) },
  { name: 'Foghorn', create: foghorn },
  { name: 'Glass harmonica chords', create: glassHarmonica },
  { name: 'Tram bell', create: tramBell },
  { name: 'Rain on tin', create: rainOnTin },
  { name: 'Boiler-room drums', create: boilerRoomDrums },
  { name: 'Pier bass line', create: pierBassLine },
  { name: 'Wind harp', create: windHarp },
  { name: 'Telegraph clicks', create: telegraphClicks },
  { name: 'Crowd of gulls', create: gulls },
];
