import type { SettingValue } from '@hexenkessel/core/stages';

type Values = Readonly<Record<string, number>>;
type Settings = Readonly<Record<string, SettingValue>>;

/**
 * Sets several values of a stage at once; `gesture` is the same for all of one drag. What counts from where it stands, as a
 * key press does, is handed in as a function of the settings: the picture may be a press or two behind.
 */
export type SetValues = (values: Values | ((now: Settings) => Values), gesture: string) => void;

/** A setting that is a number now; what the picture shows where it is none. */
export function numberIn(now: Settings, key: string, shown: number): number {
  const value = now[key];
  return typeof value === 'number' ? value : shown;
}
