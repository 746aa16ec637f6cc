import { useRef, type KeyboardEvent, type PointerEvent } from 'react';

let gestures = 0;

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/**
 * Lets something in a picture be dragged, or moved with the arrow keys (Shift: further). `onPoint` gets the place in the
 * picture, 0…1 from the left and from the top; `onStep` gets steps to the right and up. All of one drag is one gesture.
 */
export function useDrag(
  onPoint: (x: number, y: number, gesture: string) => void,
  onStep: (right: number, up: number, gesture: string) => void,
) {
  const gesture = useRef('');
  const point = (event: PointerEvent<SVGElement>) => {
    const box = (event.currentTarget.ownerSVGElement ?? event.currentTarget).getBoundingClientRect();
    onPoint((event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height, gesture.current);
  };
  return {
    tabIndex: 0,
    style: { cursor: 'move', touchAction: 'none' },
    onPointerDown: (event: PointerEvent<SVGElement>) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      gesture.current = `picture ${++gestures}`;
    },
    onPointerMove: (event: PointerEvent<SVGElement>) => {
      if (event.currentTarget.hasPointerCapture(event.pointerId)) point(event);
    },
    onKeyDown: (event: KeyboardEvent<SVGElement>) => {
      const way = ARROWS[event.key];
      if (!way || event.altKey || event.ctrlKey || event.metaKey) return;
      event.preventDefault();
      event.stopPropagation();
      const far = event.shiftKey ? 10 : 1;
      onStep(way[0] * far, way[1] * far, `picture key ${event.key}`);
    },
  };
}
