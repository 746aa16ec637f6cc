import { Box, Flex, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { Pause, Volume2 } from 'lucide-react';
import { showLevel } from '@hexenkessel/core/model';
import { IconAction } from '../parts/IconAction.tsx';
import type { RowPicture } from './renderReport.ts';
import type { TimeScale } from './timeScale.ts';
import { Waveform } from './Waveform.tsx';

export const LABEL_WIDTH = 214;

interface Props {
  readonly title: string;
  /** What stands before the title: number, handle, switch. */
  readonly lead?: ReactNode;
  readonly actions?: ReactNode;
  readonly detail?: string | undefined;
  /** Pixels by which it stands in. */
  readonly indent?: number;
  /** How loud it is while it plays. */
  readonly meter?: ReactNode;
  readonly scale: TimeScale;
  readonly sampleRate: number;
  readonly row: RowPicture | undefined;
  readonly ghost?: RowPicture | undefined;
  readonly stale: boolean;
  /** Said where there is no sound of its own to be shown. */
  readonly unshown?: string | undefined;
  readonly off?: boolean;
  readonly selected?: boolean;
  /** Left out where it cannot be heard by itself. */
  readonly playing?: boolean;
  readonly onEar?: () => void;
  readonly onSelect?: () => void;
}

/** One row of the Cascade: what it is on the left, how it sounds from there on the ruler. */
export function CascadeRow(props: Props) {
  const {
    title,
    lead,
    actions,
    detail,
    scale,
    sampleRate,
    row,
    ghost,
    stale,
    unshown,
    off = false,
    selected = false,
    indent = 0,
    meter,
    playing = false,
    onEar,
    onSelect,
  } = props;
  const clipped = row !== undefined && row.peak > 0;
  return (
    <Flex
      height="100%"
      borderBottomWidth="1px"
      borderColor="rule"
      onClick={onSelect}
      data-stale={stale}
      data-row={title}
    >
      <Flex
        width={`${LABEL_WIDTH}px`}
        flexShrink={0}
        direction="column"
        justify="center"
        pr="2"
        pl={`${8 + indent}px`}
        borderRightWidth="1px"
        borderLeftWidth="3px"
        borderColor="rule"
        borderLeftColor={selected ? 'copper' : 'transparent'}
        bg={selected ? 'shade' : 'transparent'}
      >
        <Flex align="center" gap="1.5" opacity={off ? 0.6 : 1}>
          {lead}
          <Text fontWeight="600" truncate flex="1" textDecoration={off ? 'line-through' : 'none'}>
            {title}
          </Text>
          {onEar && (
            <IconAction
              label={playing ? `Stop ${title}` : `Play the sound up to ${title}`}
              aria-pressed={playing}
              color={playing ? 'verdigris' : 'ink'}
              disabled={row === undefined}
              onClick={(event) => {
                event.stopPropagation();
                onEar();
              }}
            >
              {playing ? <Pause size={15} /> : <Volume2 size={15} />}
            </IconAction>
          )}
        </Flex>
        <Flex align="center" justify="space-between" height="22px">
          <Text fontSize="xs" fontFamily="mono" color={clipped ? 'alarm' : 'faded'} truncate title={detail}>
            {unshown ?? (row ? `${clipped ? 'over ' : ''}${showLevel(row.peak)}` : '…')}
            {detail ? ` · ${detail}` : ''}
          </Text>
          <Flex>{actions}</Flex>
        </Flex>
        {meter}
      </Flex>
      <Box position="relative" flex="1" minWidth="0" opacity={stale ? 0.45 : off ? 0.35 : 1} transition="opacity 80ms">
        <Waveform
          scale={scale}
          sampleRate={sampleRate}
          row={row}
          ghost={ghost}
          label={
            unshown
              ? `${title}, ${unshown}`
              : `Waveform after ${title}${row ? `, peak ${showLevel(row.peak)}` : ', being rendered'}`
          }
        />
      </Box>
    </Flex>
  );
}
