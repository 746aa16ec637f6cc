import { HStack } from '@chakra-ui/react';
import { Maximize2, ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useRef, type RefObject } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useAppSelector } from '../app/store.ts';
import { markedOn } from '../chain/playbackSlice.ts';
import { useShownSound } from '../chain/shownChain.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { LABEL_WIDTH } from './CascadeRow.tsx';
import { useScale } from './scaleContext.ts';
import { toSeconds } from './timeScale.ts';
import { useExtent, useZoom, type Zoom } from './useTimeScale.ts';
import { ZOOM_KEYS } from './zoomKeys.ts';
import style from './Ruler.module.css';

const STEP = 0.6;
/** How much of the ruler a notch of the wheel zooms by, and pans. */
const WHEEL = 0.0016;

/** Zooming by buttons and keys: out, in, to the region or back to all. */
export function ZoomButtons() {
  const sound = useShownSound();
  const { region } = useAppSelector((state) => markedOn(state, sound.id));
  const zoom = useZoom();
  const { zoomed, zoomBy, panBy, show } = zoom;
  const fit = () => show(zoomed ? null : region);
  const plain = { enableOnFormTags: ['slider'] as const };
  useHotkeys(ZOOM_KEYS.in.keys, () => zoomBy(STEP), plain);
  useHotkeys(ZOOM_KEYS.out.keys, () => zoomBy(1 / STEP), plain);
  useHotkeys(ZOOM_KEYS.fit.keys, fit, plain);
  useHotkeys(ZOOM_KEYS.pan.keys, (event) => panBy(event.key === 'ArrowLeft' ? -0.5 : 0.5), { preventDefault: true });
  return (
    <HStack gap="0" flexShrink={0}>
      <IconAction
        label="Zoom out"
        shortcut={ZOOM_KEYS.out.shown}
        size="2xs"
        disabled={!zoomed}
        onClick={() => zoomBy(1 / STEP)}
      >
        <ZoomOut size={14} />
      </IconAction>
      <IconAction label="Zoom in" shortcut={ZOOM_KEYS.in.shown} size="2xs" onClick={() => zoomBy(STEP)}>
        <ZoomIn size={14} />
      </IconAction>
      <IconAction
        label={zoomed ? 'Show everything' : 'Fit the region'}
        shortcut={ZOOM_KEYS.fit.shown}
        size="2xs"
        disabled={!zoomed && !region}
        onClick={fit}
      >
        <Maximize2 size={13} />
      </IconAction>
    </HStack>
  );
}

/** The wheel with Ctrl zooms at the pointer, with Shift or sideways it pans; over the ruler it zooms by itself. */
export function useWheelZoom(area: RefObject<HTMLElement | null>): void {
  const zoom = useZoom();
  const scale = useScale();
  const latest = useRef<{ zoom: Zoom; scale: typeof scale }>({ zoom, scale });
  latest.current = { zoom, scale };
  useEffect(() => {
    const element = area.current;
    if (!element) return undefined;
    const turn = (event: WheelEvent) => {
      const x = event.clientX - element.getBoundingClientRect().left - LABEL_WIDTH;
      const sideways = event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY);
      const onRuler = (event.target as Element).closest('[data-testid=ruler]') !== null;
      if (x < 0 || !(event.ctrlKey || event.metaKey || sideways || onRuler)) return;
      const now = latest.current;
      if (sideways && !now.zoom.zoomed) return;
      event.preventDefault();
      const turned = (event.deltaY || event.deltaX) * (event.deltaMode === 1 ? 33 : 1);
      if (sideways) now.zoom.panBy((event.deltaX || event.deltaY) * WHEEL * 0.6);
      else now.zoom.zoomBy(Math.exp(turned * WHEEL), toSeconds(now.scale, x));
    };
    element.addEventListener('wheel', turn, { passive: false });
    return () => element.removeEventListener('wheel', turn);
  }, [area]);
}

/** Which part of all there is is shown, to be dragged. Only while it is a part. */
export function ZoomBar() {
  const all = useExtent();
  const { start, end } = useScale();
  const { zoomed, panBy } = useZoom();
  const from = useRef(0);
  const bar = useRef<HTMLDivElement>(null);
  const length = all.end - all.start;
  if (!zoomed) return null;
  return (
    <div ref={bar} className={style['zoomBar']}>
      <div
        role="scrollbar"
        aria-label="Shown part of the sound"
        aria-orientation="horizontal"
        aria-controls="cascade"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round((100 * (start - all.start)) / Math.max(1e-9, length - (end - start)))}
        className={style['zoomThumb']}
        style={{
          left: `${(100 * (start - all.start)) / length}%`,
          width: `max(14px, ${(100 * (end - start)) / length}%)`,
        }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          from.current = event.clientX;
        }}
        onPointerMove={(event) => {
          if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
          const share = (event.clientX - from.current) / (bar.current?.clientWidth ?? 1);
          from.current = event.clientX;
          panBy((share * length) / (end - start));
        }}
      />
    </div>
  );
}
