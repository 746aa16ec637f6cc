import { chakra } from '@chakra-ui/react';
import { useSortable } from '@dnd-kit/sortable';
import { ChevronDown, ChevronUp, GripVertical, Power, X } from 'lucide-react';
import { stageOf, stageTitle, type StageDocument } from '@hexenkessel/core';
import { FamilyMark } from '../parts/family.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { CascadeRow } from './CascadeRow.tsx';
import type { RowPicture } from './renderWorker.ts';
import type { TimeScale } from './timeScale.ts';

interface Props {
  readonly stage: StageDocument;
  readonly index: number;
  readonly count: number;
  /** CSS height. */
  readonly height: string;
  readonly scale: TimeScale;
  readonly sampleRate: number;
  readonly row: RowPicture | undefined;
  readonly ghost: RowPicture | undefined;
  readonly stale: boolean;
  readonly selected: boolean;
  readonly playing: boolean;
  readonly onEar: () => void;
  readonly onSelect: () => void;
  readonly onMove: (by: -1 | 1) => void;
  readonly onSwitch: () => void;
  readonly onRemove: () => void;
}

/** A stage's row: dragged by its handle, moved by its arrows or Alt+arrow keys, switched, removed. */
export function StageRow(props: Props) {
  const { stage, index, count, height, onMove, onSwitch, onRemove, ...row } = props;
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: stage.id,
  });
  const title = stageTitle(stage);
  return (
    <div
      ref={setNodeRef}
      data-stage={stage.id}
      style={{
        transform: transform ? `translateY(${transform.y}px)` : undefined,
        transition,
        height,
        position: 'relative',
        zIndex: isDragging ? 2 : undefined,
        background: isDragging ? 'var(--chakra-colors-shade)' : undefined,
      }}
      onKeyDown={(event) => {
        if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(event.key === 'ArrowUp' ? -1 : 1);
      }}
    >
      <CascadeRow
        {...row}
        title={title}
        off={!stage.on}
        lead={
          <>
            <chakra.button
              type="button"
              ref={setActivatorNodeRef}
              {...attributes}
              {...listeners}
              aria-label={`Move ${title}`}
              cursor="grab"
              color="faded"
              minWidth="20px"
              minHeight="24px"
            >
              <GripVertical size={14} />
            </chakra.button>
            <chakra.button
              type="button"
              fontFamily="mono"
              minWidth="20px"
              minHeight="24px"
              aria-label={`${index + 1}: show the settings of ${title}`}
              aria-current={row.selected ? 'true' : undefined}
              onClick={row.onSelect}
            >
              {index + 1}
            </chakra.button>
            <FamilyMark family={stageOf(stage.kind).family} wordless />
          </>
        }
        detail={row.row && costText(row.row)}
        actions={
          <>
            <IconAction
              label={`${title} ${stage.on ? 'off' : 'on'}`}
              aria-pressed={stage.on}
              color={stage.on ? 'verdigris' : 'faded'}
              size="2xs"
              onClick={(event) => {
                event.stopPropagation();
                onSwitch();
              }}
            >
              <Power size={13} />
            </IconAction>
            <IconAction
              label={`Move ${title} up`}
              shortcut="Alt+↑"
              size="2xs"
              disabled={index === 0}
              onClick={() => onMove(-1)}
            >
              <ChevronUp size={14} />
            </IconAction>
            <IconAction
              label={`Move ${title} down`}
              shortcut="Alt+↓"
              size="2xs"
              disabled={index === count - 1}
              onClick={() => onMove(1)}
            >
              <ChevronDown size={14} />
            </IconAction>
            <IconAction
              label={`Remove ${title}`}
              size="2xs"
              onClick={(event) => {
                event.stopPropagation();
                onRemove();
              }}
            >
              <X size={14} />
            </IconAction>
          </>
        }
      />
    </div>
  );
}

/** What a row has cost; nothing when it came from the cache. */
function costText({ cost, sharedBy }: RowPicture): string {
  if (cost === 0) return '';
  return `${Math.max(1, Math.round(cost))} ms${sharedBy > 1 ? ` for ${sharedBy}` : ''}`;
}
