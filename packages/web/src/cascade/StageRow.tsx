import { chakra } from '@chakra-ui/react';
import { useSortable } from '@dnd-kit/sortable';
import { GripVertical } from 'lucide-react';
import type { ReactNode } from 'react';
import { stageTitle, type StageDocument } from '@hexenkessel/core/chain';
import { FamilyMark } from '../parts/family.tsx';
import { CascadeRow } from './CascadeRow.tsx';
import type { RowPicture } from './renderReport.ts';
import { StageButtons, StageNumber, moveByKey } from './StageControls.tsx';
import type { TimeScale } from './timeScale.ts';
import type { StageActions } from './useStageActions.ts';
import { useCatalogue } from '../chain/useCatalogue.ts';

interface Props {
  readonly stage: StageDocument;
  readonly index: number;
  /** CSS height. */
  readonly height: string;
  readonly scale: TimeScale;
  readonly sampleRate: number;
  readonly row: RowPicture | undefined;
  readonly ghost: RowPicture | undefined;
  readonly stale: boolean;
  readonly selected: boolean;
  readonly playing: boolean;
  readonly meter: ReactNode;
  readonly actions: StageActions;
  readonly onEar: () => void;
  /** The rows of the stages inside it. */
  readonly children?: ReactNode;
}

/** A stage's row: dragged by its handle, moved by its arrows or Alt+arrow keys, switched, removed. */
export function StageRow(props: Props) {
  const { stage, index, height, actions, children, ...row } = props;
  const catalogue = useCatalogue();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: stage.id,
  });
  const title = stageTitle(catalogue, stage);
  return (
    <div
      ref={setNodeRef}
      data-stage={stage.id}
      style={{
        transform: transform ? `translateY(${transform.y}px)` : undefined,
        transition,
        position: 'relative',
        zIndex: isDragging ? 2 : undefined,
        background: isDragging ? 'var(--chakra-colors-shade)' : undefined,
      }}
      onKeyDown={moveByKey(stage.id, actions)}
    >
      <div style={{ height }}>
        <CascadeRow
          {...row}
          title={title}
          off={!stage.on}
          onSelect={() => actions.select(stage.id)}
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
              <StageNumber
                stage={stage}
                number={String(index + 1)}
                selected={row.selected}
                onSelect={() => actions.select(stage.id)}
              />
              <FamilyMark family={catalogue.of(stage).family} wordless />
            </>
          }
          actions={<StageButtons stage={stage} actions={actions} />}
        />
      </div>
      {children}
    </div>
  );
}
