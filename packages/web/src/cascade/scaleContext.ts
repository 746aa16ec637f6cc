import { createContext, useContext } from 'react';
import type { TimeScale } from './timeScale.ts';

/** The ruler that all rows of the Cascade share; the same object as long as nothing on it moves. */
export const ScaleContext = createContext<TimeScale>({ start: 0, end: 1, width: 1 });

export const useScale = (): TimeScale => useContext(ScaleContext);
