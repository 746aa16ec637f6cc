import { chakra } from '@chakra-ui/react';
import { ChevronDown, ChevronUp, Power, X } from 'lucide-react';
import { stageTitle, type StageDocument } from '@hexenkessel/core/chain';
import { IconAction } from '../parts/IconAction.tsx';
import type { RowCost } from './renderReport.ts';
import type { StageActions } from './useStageActions.ts';
import { useCatalogue } from '../chain/useCatalogue.ts';

interface Props {
  readonly stage: StageDocument;
  /** Where there is no place before it, or none behind it. */
  readonly first: boolean;
  readonly last: boolean;
  readonly actions: StageActions;
}

/** The buttons of a stage's row: on and off, up and down, remove. */
export function StageButtons({ stage, first, last, actions }: Props) {
  const catalogue = useCatalogue();
  const title = stageTitle(catalogue, stage);
  return (
    <>
      <IconAction
        label={`${title} ${stage.on ? 'off' : 'on'}`}
        aria-pressed={stage.on}
        color={stage.on ? 'verdigris' : 'faded'}
        size="2xs"
        onClick={(event) => {
          event.stopPropagation();
          actions.switchOn(stage.id);
        }}
      >
        <Power size={13} />
      </IconAction>
      {([-1, 1] as const).map((by) => (
        <IconAction
          key={by}
          label={`Move ${title} ${by < 0 ? 'up' : 'down'}`}
          shortcut={by < 0 ? 'Alt+↑' : 'Alt+↓'}
          size="2xs"
          disabled={by < 0 ? first : last}
          onClick={() => actions.move(stage.id, by)}
        >
          {by < 0 ? <ChevronUp size={14} /> : <ChevronDown size={14} />}
        </IconAction>
      ))}
      <IconAction
        label={`Remove ${title}`}
        size="2xs"
        onClick={(event) => {
          event.stopPropagation();
          actions.remove(stage.id);
        }}
      >
        <X size={14} />
      </IconAction>
    </>
  );
}

/** The number of a stage, which shows its settings. */
export function StageNumber({
  stage,
  number,
  selected,
  onSelect,
}: {
  stage: StageDocument;
  number: string;
  selected: boolean;
  onSelect: () => void;
}) {
  const catalogue = useCatalogue();
  return (
    <chakra.button
      type="button"
      fontFamily="mono"
      minWidth="24px"
      minHeight="24px"
      aria-label={`${number}: show the parameters of ${stageTitle(catalogue, stage)}`}
      aria-current={selected ? 'true' : undefined}
      onClick={onSelect}
    >
      {number}
    </chakra.button>
  );
}

/** Alt and an arrow key move the stage that has the focus. */
export function moveByKey(id: string, actions: StageActions) {
  return (event: React.KeyboardEvent): void => {
    if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    event.stopPropagation();
    actions.move(id, event.key === 'ArrowUp' ? -1 : 1);
  };
}

/** What a row has cost, alone or with those it ran together with; nothing when it came from the cache. */
export function costText({ cost, sharedBy }: RowCost): string {
  if (cost === 0) return '';
  return `${Math.max(1, Math.round(cost))} ms${sharedBy > 1 ? `, ${sharedBy} stages` : ''}`;
}
