import { Pause, Volume2 } from 'lucide-react';
import { memo, type ReactNode } from 'react';
import { showLevel } from '@hexenkessel/core/model';
import { useShown } from '../chain/shownChain.ts';
import { IconAction } from '../parts/IconAction.tsx';
import type { CascadeState } from './chainRenderer.ts';
import style from './CascadeRow.module.css';
import type { RowKey, RowPicture } from './renderReport.ts';
import { rowBefore } from './rowsBefore.ts';
import { useScale } from './scaleContext.ts';
import { useDetail } from './useDetail.ts';
import { useRendered } from './useRenderer.ts';
import { Waveform } from './Waveform.tsx';

/** Pixels of the column that says what a row is. */
export const LABEL_WIDTH = 214;

/** Which sound a row shows. */
export interface RowSound {
  readonly rowKey: RowKey;
  /** The stage whose output it is: what goes into it is ghosted behind. */
  readonly stageId?: string | undefined;
  /** The stage is off: what goes into it comes out. */
  readonly off?: boolean;
  /** Said where there is no sound of its own to be shown. */
  readonly unshown?: string | undefined;
}

interface Props extends RowSound {
  readonly title: string;
  /** What stands before the title: number, handle, switch. */
  readonly lead?: ReactNode;
  readonly actions?: ReactNode;
  readonly detail?: string | undefined;
  /** Pixels by which it stands in. */
  readonly indent?: number;
  /** How loud it is while it plays. */
  readonly meter?: ReactNode;
  readonly selected?: boolean;
  /** Left out where it cannot be heard by itself. */
  readonly playing?: boolean;
  readonly onEar?: () => void;
  readonly onSelect?: () => void;
}

/** One row of the Cascade: what it is on the left, how it sounds from there on the ruler. */
export function CascadeRow(props: Props) {
  const { title, lead, actions, detail, selected = false, indent = 0, meter, playing = false, onEar, onSelect } = props;
  const { rowKey, stageId, off = false, unshown } = props;
  return (
    <div className={style['row']} onClick={onSelect} data-row={title}>
      <div
        className={`${style['label']} ${selected ? style['selected'] : ''}`}
        style={{ width: LABEL_WIDTH, paddingLeft: 8 + indent }}
      >
        <div className={`${style['line']} ${off ? style['off'] : ''}`}>
          {lead}
          <p className={style['title']}>{title}</p>
          {onEar && <Ear title={title} rowKey={rowKey} stageId={stageId} off={off} playing={playing} onEar={onEar} />}
        </div>
        <div className={style['facts']}>
          <Peak rowKey={rowKey} stageId={stageId} off={off} unshown={unshown} detail={detail} />
          <div className={style['actions']}>{actions}</div>
        </div>
        {meter}
      </div>
      <Picture title={title} rowKey={rowKey} stageId={stageId} off={off} unshown={unshown} />
    </div>
  );
}

/** What is shown of a row, and what is ghosted behind it. */
function useRow({ rowKey, stageId, off }: RowSound) {
  const stages = useShown((chain) => chain.stages);
  const before = ({ rows }: CascadeState): RowPicture | undefined =>
    stageId === undefined ? undefined : rowBefore(stages, stageId, rows);
  return {
    row: useRendered((state) => (off ? before(state) : state.rows[rowKey])),
    ghost: useRendered(before),
    stale: useRendered(({ rows, stale }) => !off && (stale.has(rowKey) || rows[rowKey] === undefined)),
  };
}

interface EarProps extends RowSound {
  readonly title: string;
  readonly playing: boolean;
  readonly onEar: () => void;
}

function Ear({ title, rowKey, off, playing, onEar }: EarProps) {
  const there = useRendered(({ rows }) => off === true || rows[rowKey] !== undefined);
  return (
    <IconAction
      label={playing ? `Stop ${title}` : `Play the sound up to ${title}`}
      aria-pressed={playing}
      color={playing ? 'verdigris' : 'ink'}
      disabled={!there}
      onClick={(event) => {
        event.stopPropagation();
        onEar();
      }}
    >
      {playing ? <Pause size={15} /> : <Volume2 size={15} />}
    </IconAction>
  );
}

const Peak = memo(function Peak({ detail, unshown, ...sound }: RowSound & Pick<Props, 'detail'>) {
  const { row } = useRow(sound);
  const clipped = row !== undefined && row.peak > 0;
  return (
    <p className={`${style['peak']} ${clipped ? style['clipped'] : ''}`} title={detail}>
      {unshown ?? (row ? `${clipped ? 'over ' : ''}${showLevel(row.peak)}` : '…')}
      {detail ? ` · ${detail}` : ''}
    </p>
  );
});

const Picture = memo(function Picture({ title, unshown, ...sound }: RowSound & Pick<Props, 'title'>) {
  const scale = useScale();
  const sampleRate = useRendered((state) => state.sampleRate);
  const { row, ghost, stale } = useRow(sound);
  const shown = useDetail(row, scale, sampleRate);
  const faint = stale && unshown === undefined ? style['stale'] : sound.off ? style['passed'] : '';
  return (
    <div className={`${style['picture']} ${faint}`} data-stale={stale && unshown === undefined}>
      <Waveform
        scale={scale}
        sampleRate={sampleRate}
        row={shown}
        ghost={ghost}
        label={
          unshown
            ? `${title}, ${unshown}`
            : `Waveform after ${title}${row ? `, peak ${showLevel(row.peak)}` : ', being rendered'}`
        }
      />
    </div>
  );
});
