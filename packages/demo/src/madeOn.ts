/** The sound of the museum that each preset was made on, and opens on. */
const MADE_ON: Readonly<Record<string, readonly string[]>> = {
  'Harbour announcer': [
    'Tide Turning',
    'Copper Dome',
    'Talking Kettle',
    'Isobar Choir',
    'Fog Speaks',
    'Undertow',
    'Deep Keeper',
    'Shipping Forecast',
    'Gap in the Clouds',
    'One-Note Horn',
    'Slow Ferry',
    'Breathing Fog',
    'Bad Line',
  ],
  Foghorn: ['Anchor Drop', 'Hours of Fog'],
  'Glass harmonica chords': ['Storm Glass', 'Weather Vane', 'Making Way', 'Mirror Lake'],
  'Tram bell': ['Thermal'],
  'Rain on tin': ['Squall Line'],
  'Boiler-room drums': ['Lamp Room', 'Barometer Drop', 'Hail', 'Sleet', 'Slack Water', 'Lighthouse', 'Winch'],
  'Pier bass line': ['Mooring Line'],
  'Wind harp': ['Two Tides', 'Rain Gauge', 'Falling Glass', 'Wave on Wave'],
  'Telegraph clicks': ['Signal Box', 'Bell Buoy'],
};

/** Undefined for a preset that is not in the list. */
export function madeOn(chain: string): { readonly sound: string } | undefined {
  const found = Object.entries(MADE_ON).find(([, chains]) => chains.includes(chain));
  return found && { sound: found[0] };
}
