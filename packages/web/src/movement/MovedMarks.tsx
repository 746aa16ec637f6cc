import { Box } from '@chakra-ui/react';
import { useRef, type KeyboardEvent } from 'react';
import { BUILT_INS, type ScaledParam } from '@hexenkessel/core/stages';
import { edits, modulatorTitle, type Route } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { edit } from '../chain/edit.ts';
import { usePlayPosition } from '../playback/usePlayPosition.ts';
import { usePlayingRow } from '../playback/usePlayback.ts';
import { useTrace } from './traceContext.ts';
import { tracedAt } from './traceReading.ts';

interface Props {
  readonly target: string;
  readonly param: ScaledParam;
  /** Where the setting stands on its scale. */
  readonly place: number;
}

/** On the scale of a moved setting: how far each route takes it, to be dragged, and where it is while it plays. */
export function MovedMarks({ target, place }: Props) {
  const routes = useAppSelector((state) => state.chain.present.document.routes);
  const moving = routes.filter(({ to, on }) => on && to === target);
  if (moving.length === 0) return null;
  return (
    <>
      <Box position="relative" height="24px" mt="-4px">
        {moving.map((route) => (
          <DepthHandle key={route.id} route={route} place={place} />
        ))}
      </Box>
      <LiveMark target={target} />
    </>
  );
}

let gestures = 0;

/** The reach of a route as a line under the scale; its end is dragged for the depth, its other side tells the polarity. */
function DepthHandle({ route, place }: { readonly route: Route; readonly place: number }) {
  const dispatch = useAppDispatch();
  const name = useAppSelector((state) => {
    const { modulators, panel } = state.chain.present.document;
    const modulator = modulators.find(({ id }) => id === route.from);
    return modulator ? modulatorTitle(modulator) : (panel.find(({ id }) => id === route.from)?.name ?? route.from);
  });
  const gesture = useRef('');
  const { depth, polarity } = route;
  const change = (part: Partial<Route>, group?: string) =>
    dispatch(edit(edits.changeRoute(BUILT_INS, route.id, part), group));
  const setDepth = (next: number, group: string) =>
    change({ depth: Math.round(1000 * Math.max(-1, Math.min(1, next))) / 1000 }, group);
  const turn = () => change({ polarity: polarity === 'both' ? 'up' : 'both' });
  const press = (event: KeyboardEvent) => {
    const step = { ArrowRight: 0.01, ArrowUp: 0.01, ArrowLeft: -0.01, ArrowDown: -0.01, PageUp: 0.1, PageDown: -0.1 }[
      event.key
    ];
    if (step !== undefined) setDepth(depth + step, `key depth ${route.id}`);
    else if (event.key === 'Enter') turn();
    else if (event.key === 'Delete' || event.key === 'Backspace')
      dispatch(edit(edits.removeRoute(BUILT_INS, route.id)));
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const end = place + depth;
  const start = polarity === 'both' ? place - depth : place;
  const [low, high] = [Math.min(start, end), Math.max(start, end)].map((at) => Math.max(0, Math.min(1, at)));
  const words = `${Math.round(100 * depth)} % of the range, ${polarity === 'both' ? 'bipolar' : 'unipolar'}`;
  return (
    <>
      <Box
        position="absolute"
        top="4px"
        height="2px"
        bg="copper"
        pointerEvents="none"
        style={{ left: `${100 * low}%`, width: `${100 * (high - low)}%` }}
      />
      <Box
        role="slider"
        tabIndex={0}
        aria-label={`Depth of ${name}`}
        aria-valuemin={-100}
        aria-valuemax={100}
        aria-valuenow={Math.round(100 * depth)}
        aria-valuetext={words}
        data-tip={`${name}: ${words}. Drag; Enter switches bipolar / unipolar, Delete removes it`}
        position="absolute"
        top="0"
        width="24px"
        height="24px"
        ml="-12px"
        cursor="col-resize"
        touchAction="none"
        style={{ left: `${100 * Math.max(0, Math.min(1, end))}%` }}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          gesture.current = `depth ${++gestures}`;
        }}
        onPointerMove={(event) => {
          if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
          event.stopPropagation();
          const { left, width } = event.currentTarget.parentElement?.getBoundingClientRect() ?? { left: 0, width: 1 };
          setDepth((event.clientX - left) / width - place, gesture.current);
        }}
        onDoubleClick={(event) => {
          event.stopPropagation();
          turn();
        }}
        onKeyDown={press}
      >
        <Box
          position="absolute"
          left="9px"
          top="1px"
          width="6px"
          height="8px"
          bg="sheet"
          borderWidth="1.5px"
          borderColor="copper"
        />
      </Box>
    </>
  );
}

/** Where the moved setting is while it plays; drawn outside React. */
function LiveMark({ target }: { readonly target: string }) {
  const trace = useTrace();
  const playing = usePlayingRow() !== undefined;
  const mark = useRef<HTMLDivElement>(null);
  usePlayPosition((seconds) => {
    const place = trace && tracedAt(trace, trace.targets[target], seconds);
    if (mark.current && place !== undefined) mark.current.style.left = `${100 * place}%`;
  });
  if (!playing || !trace?.targets[target]) return null;
  return (
    <Box
      ref={mark}
      data-testid="moving-position"
      position="absolute"
      top="4px"
      width="2px"
      height="17px"
      ml="-1px"
      bg="verdigris"
      pointerEvents="none"
    />
  );
}
