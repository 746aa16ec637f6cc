import { Box } from '@chakra-ui/react';
import {
  DndContext,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useDndContext,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { useEffect, useRef, type ReactNode } from 'react';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { edits } from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { edit } from '../chain/edit.ts';

/** Where a parameter is dropped that shall have a control of its own. */
const NEW = 'new';

interface Dragged {
  readonly target: string;
  readonly label: string;
}

/** Parameters are dragged by their labels onto the panel, which pins them: to a control of their own or to one that is there. */
export function PinDragProvider({ children }: { readonly children: ReactNode }) {
  const dispatch = useAppDispatch();
  // A click is none; a drag begins after a few pixels.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const placeReleasedOn = usePlaceReleasedOn();
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      autoScroll={false}
      onDragEnd={({ active }) => {
        const dragged = active.data.current as Dragged | undefined;
        const place = placeReleasedOn();
        if (!dragged || place === undefined) return;
        dispatch(edit(edits.pin(BUILT_INS, dragged.target, place === NEW ? undefined : place)));
      }}
    >
      {children}
      <Overlay />
    </DndContext>
  );
}

/**
 * The place under the pointer where it was let go. A quick drop ends before the place it came over last was drawn, so
 * that what dnd-kit names then is older than the pointer.
 */
function usePlaceReleasedOn(): () => string | undefined {
  const released = useRef<{ readonly x: number; readonly y: number }>(undefined);
  useEffect(() => {
    const onRelease = (event: PointerEvent) => (released.current = { x: event.clientX, y: event.clientY });
    window.addEventListener('pointerup', onRelease, { capture: true });
    return () => window.removeEventListener('pointerup', onRelease, { capture: true });
  }, []);
  return () => {
    if (!released.current) return undefined;
    const { x, y } = released.current;
    const place = document
      .elementsFromPoint(x, y)
      .map((element) => element.closest<HTMLElement>('[data-pin-place]'))
      .find((element) => element !== null);
    return place?.dataset.pinPlace;
  };
}

function Overlay() {
  const { active } = useDndContext();
  const dragged = active?.data.current as Dragged | undefined;
  return (
    <DragOverlay dropAnimation={null}>
      {dragged && (
        <Box
          px="2"
          py="0.5"
          width="max-content"
          bg="sheet"
          color="copper"
          borderWidth="1px"
          borderColor="copper"
          borderRadius="l1"
          fontSize="sm"
        >
          {dragged.label}
        </Box>
      )}
    </DragOverlay>
  );
}

/** True while a parameter is dragged. */
export function usePinning(): boolean {
  return useDndContext().active !== null;
}

/** What makes the label of a row a handle; a row without a target has none. */
export function usePinHandle(target: string | undefined, label: string) {
  const data: Dragged = { target: target ?? '', label };
  const { setNodeRef, listeners } = useDraggable({
    id: `pin ${target ?? label}`,
    data,
    disabled: target === undefined,
  });
  return { ref: setNodeRef, ...listeners };
}

/** A place to drop parameters on: a control by its id, or the one for a new control. */
export function PinPlace({ control, children }: { readonly control?: string; readonly children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: control ?? NEW });
  const pinning = usePinning();
  return (
    <Box
      ref={setNodeRef}
      flexShrink={0}
      borderRadius="l1"
      outline={pinning ? '1px dashed' : 'none'}
      outlineColor={isOver ? 'copper' : 'rule'}
      outlineOffset="3px"
      bg={isOver ? 'shade' : 'transparent'}
      data-pin-place={control ?? NEW}
    >
      {children}
    </Box>
  );
}
