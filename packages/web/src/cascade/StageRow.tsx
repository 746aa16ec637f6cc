import { chakra } from '@chakra-ui/react';
import { useSortable } from '@dnd-kit/sortable';
import { GripVertical } from 'lucide-react';
import { memo } from 'react';
import { allStages, splitTarget, stageTitle, type ChainDocument, type StageDocument } from '@hexenkessel/core/chain';
import { useAppSelector } from '../app/store.ts';
import { useShown } from '../chain/shownChain.ts';
import { useCatalogue } from '../chain/useCatalogue.ts';
import { LaneRow } from '../lanes/LaneRow.tsx';
import { FamilyMark } from '../parts/family.tsx';
import { usePlayback, usePlayingRow } from '../playback/usePlayback.ts';
import { BranchRows } from './BranchRows.tsx';
import { CascadeRow } from './CascadeRow.tsx';
import { heardRow } from './rowsBefore.ts';
import { StageButtons, StageNumber, moveByKey } from './StageControls.tsx';
import { StageState } from './StageState.tsx';
import type { StageActions } from './useStageActions.ts';

interface Props {
  readonly id: string;
  readonly index: number;
  readonly last: boolean;
  /** CSS height. */
  readonly height: string;
  readonly actions: StageActions;
}

/** A stage's row: dragged by its handle, moved by its arrows or Alt+arrow keys, switched, removed; under it its lanes and branches. */
export const StageRow = memo(function StageRow({ id, index, last, height, actions }: Props) {
  const stage = useShown(({ stages }) => stages.find((one) => one.id === id));
  const catalogue = useCatalogue();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id,
  });
  if (!stage) return null;
  const title = stageTitle(catalogue, stage);
  return (
    <div
      ref={setNodeRef}
      data-stage={id}
      style={{
        transform: transform ? `translateY(${transform.y}px)` : undefined,
        transition,
        position: 'relative',
        zIndex: isDragging ? 2 : undefined,
        background: isDragging ? 'var(--chakra-colors-shade)' : undefined,
      }}
      onKeyDown={moveByKey(id, actions)}
    >
      <div style={{ height }}>
        <StagePicture stage={stage} index={index} last={last} actions={actions}>
          <chakra.button
            type="button"
            ref={setActivatorNodeRef}
            {...attributes}
            {...listeners}
            aria-label={`Move ${title}`}
            cursor="grab"
            color="faded"
            minWidth="24px"
            minHeight="24px"
          >
            <GripVertical size={14} />
          </chakra.button>
        </StagePicture>
      </div>
      <OpenLanes stage={stage} />
      {stage.branches && <BranchRows holder={stage} number={String(index + 1)} depth={1} actions={actions} />}
    </div>
  );
});

interface PictureProps extends Pick<Props, 'index' | 'last' | 'actions'> {
  readonly stage: StageDocument;
  /** Its handle. */
  readonly children: React.ReactNode;
}

function StagePicture({ stage, index, last, actions, children }: PictureProps) {
  const { id, on } = stage;
  const catalogue = useCatalogue();
  const playback = usePlayback();
  const playing = usePlayingRow() === `stage:${id}`;
  const heard = useShown((chain) => heardRow(chain.stages, id));
  const selected = useAppSelector((state) => state.view.selectedStage === id);
  const select = () => actions.select(id);
  return (
    <CascadeRow
      title={stageTitle(catalogue, stage)}
      off={!on}
      playing={on && playing}
      // What is heard after a stage that is off is what goes into it.
      onEar={() => playback.toggle(heard)}
      rowKey={`stage:${id}`}
      stageId={id}
      selected={selected}
      meter={<StageState stage={stage} />}
      onSelect={select}
      lead={
        <>
          {children}
          <StageNumber stage={stage} number={String(index + 1)} selected={selected} onSelect={select} />
          <FamilyMark family={catalogue.of(stage).family} wordless />
        </>
      }
      actions={<StageButtons stage={stage} first={index === 0} last={last} actions={actions} />}
    />
  );
}

/** The lanes of a stage, its branches and the stages in them, as far as they are open. */
function OpenLanes({ stage }: { readonly stage: StageDocument }) {
  const open = useAppSelector((state) => state.view.openLanes);
  const lanes = useShown((chain) => chain.lanes);
  const shown = lanesIn(lanes, stage).filter(({ target }) => open.includes(target));
  return shown.map((lane) => <LaneRow key={lane.target} lane={lane} stageId={stage.id} />);
}

function lanesIn(lanes: ChainDocument['lanes'], stage: StageDocument) {
  if (lanes.length === 0) return [];
  const ids = new Set(
    allStages([stage]).flatMap((placed) => [placed.stage.id, ...(placed.stage.branches ?? []).map(({ id }) => id)]),
  );
  return lanes.filter(({ target }) => ids.has(splitTarget(target).id));
}
