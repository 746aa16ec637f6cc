import { Box, Button, Flex, Text } from '@chakra-ui/react';
import { FlipVertical2, FoldVertical, Headphones, Plus, X, UnfoldVertical, VolumeX } from 'lucide-react';
import { memo } from 'react';
import { InputError, parseLevel, parseNumber, printLevel } from '@hexenkessel/core/model';
import { BUILT_INS, type Params, type ResolvedValues } from '@hexenkessel/core/stages';
import {
  branchLetter,
  branchTitle,
  stageTitle,
  type BranchDocument,
  type StageDocument,
  edits,
} from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { soloSwitched } from '../chain/playbackSlice.ts';
import { useShown } from '../chain/shownChain.ts';
import { addToSet, dialogSet, foldSwitched } from '../chain/viewSlice.ts';
import { edit } from '../chain/edit.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { FamilyMark } from '../parts/family.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { CascadeRow } from './CascadeRow.tsx';
import { StageButtons, StageNumber, moveByKey } from './StageControls.tsx';
import { StageState } from './StageState.tsx';
import type { StageActions } from './useStageActions.ts';
import { useCatalogue } from '../chain/useCatalogue.ts';

interface Props {
  /** The stage whose branches these are. */
  readonly holder: StageDocument;
  /** What stands before the numbers of the stages: `2` gives 2a1, 2a2, 2b1 … */
  readonly number: string;
  readonly depth: number;
  readonly actions: StageActions;
}

const NESTED_HEIGHT = '66px';
const INDENT = 14;

/** The branches of a stage that holds stages, each with the rows of the stages in it. */
export const BranchRows = memo(function BranchRows(props: Props) {
  const { holder, depth } = props;
  const dispatch = useAppDispatch();
  const folded = useAppSelector((state) => state.view.folded.includes(holder.id));
  const catalogue = useCatalogue();
  const branches = holder.branches ?? [];
  const inside = branches.reduce((sum, branch) => sum + branch.stages.length, 0);
  const { max } = catalogue.of(holder).holds!.count(holder.settings as ResolvedValues<Params>);
  return (
    <Box borderLeftWidth="1px" borderColor="rule" data-branches={holder.id}>
      <Flex align="center" height="24px" pl={`${INDENT * depth}px`} borderBottomWidth="1px" borderColor="rule">
        <Button
          size="2xs"
          variant="plain"
          color="faded"
          aria-expanded={!folded}
          onClick={() => dispatch(foldSwitched(holder.id))}
        >
          {folded ? <UnfoldVertical size={12} /> : <FoldVertical size={12} />}
          {folded ? 'expand' : 'collapse'} {branches.length} {branches.length === 1 ? 'branch' : 'branches'}, {inside}{' '}
          {inside === 1 ? 'stage' : 'stages'}
        </Button>
        {branches.length < max && (
          <Button
            size="2xs"
            variant="plain"
            color="copper"
            onClick={() => dispatch(edit(edits.addBranch(BUILT_INS, holder.id)))}
          >
            <Plus size={12} /> branch
          </Button>
        )}
      </Flex>
      {!folded &&
        branches.map((branch, index) => <BranchRow key={branch.id} {...props} branch={branch} index={index} />)}
    </Box>
  );
});

function BranchRow(props: Props & { readonly branch: BranchDocument; readonly index: number }) {
  const { branch, holder, index, number, depth, actions } = props;
  const dispatch = useAppDispatch();
  const catalogue = useCatalogue();
  const solo = useAppSelector((state) => state.playback.solos.includes(branch.id));
  const title = useShown((chain) => branchTitle(BUILT_INS, chain, branch.id));
  const definition = catalogue.of(holder);
  const inPieces = definition.runs === 'offline';
  const { min } = definition.holds!.count(holder.settings as ResolvedValues<Params>);
  const letter = branchLetter(index);
  const change = (part: Partial<BranchDocument>) => dispatch(edit(edits.changeBranch(BUILT_INS, branch.id, part)));
  const isFirst = index === 0;
  const isLast = index === (holder.branches ?? []).length - 1;
  return (
    <Box data-branch={branch.id}>
      <Flex
        align="center"
        gap="1"
        height="30px"
        pl={`${INDENT * depth}px`}
        pr="2"
        borderBottomWidth="1px"
        borderColor="rule"
        bg="shade"
        position="relative"
        zIndex="1"
      >
        <Text fontFamily="mono" fontSize="xs" color="faded">
          {number}
          {letter}
        </Text>
        <Text fontWeight="600" fontSize="sm" minWidth="84px" textDecoration={branch.muted ? 'line-through' : 'none'}>
          {title}
        </Text>
        <IconAction
          label={`${branch.muted ? 'Let' : 'Mute'} ${title}${branch.muted ? ' sound' : ''}`}
          size="2xs"
          aria-pressed={branch.muted}
          color={branch.muted ? 'alarm' : 'ink'}
          onClick={() => change({ muted: !branch.muted })}
        >
          <VolumeX size={14} />
        </IconAction>
        {!inPieces && (
          <IconAction
            label={solo ? `Unsolo ${title}` : `Solo ${title}`}
            size="2xs"
            aria-pressed={solo}
            color={solo ? 'verdigris' : 'ink'}
            bg={solo ? 'sheet' : 'transparent'}
            onClick={() => dispatch(soloSwitched(branch.id))}
          >
            <Headphones size={14} />
          </IconAction>
        )}
        <IconAction
          label={`Invert polarity of ${title}`}
          size="2xs"
          aria-pressed={branch.inverted}
          color={branch.inverted ? 'copper' : 'ink'}
          onClick={() => change({ inverted: !branch.inverted })}
        >
          <FlipVertical2 size={14} />
        </IconAction>
        <TypedValue
          label={`Level of ${title}`}
          text={printLevel(branch.level)}
          width="74px"
          onCommit={(text) => change({ level: parseLevel(text) })}
        />
        <TypedValue
          label={`Pan of ${title}`}
          text={showPlace(branch.pan)}
          width="74px"
          onCommit={(text) => change({ pan: parsePlace(text) })}
        />
        <Button
          size="2xs"
          variant="ghost"
          color="copper"
          onClick={() => {
            dispatch(addToSet(branch.id));
            dispatch(dialogSet('add'));
          }}
        >
          <Plus size={13} /> add stage in {title}
        </Button>
        {(holder.branches ?? []).length > min && (
          <IconAction
            label={`Remove ${title}`}
            size="2xs"
            onClick={() => dispatch(edit(edits.removeBranch(BUILT_INS, branch.id)))}
          >
            <X size={13} />
          </IconAction>
        )}
      </Flex>
      {branch.stages.map((stage, place) => (
        <NestedRow
          key={stage.id}
          stage={stage}
          name={`${number}${letter}${place + 1}`}
          depth={depth}
          inPieces={inPieces}
          first={isFirst && place === 0}
          last={isLast && place === branch.stages.length - 1}
          actions={actions}
        />
      ))}
    </Box>
  );
}

interface NestedProps {
  readonly stage: StageDocument;
  /** Where it stands: `2a1`. */
  readonly name: string;
  readonly depth: number;
  /** It is applied to each slice, and has no sound of its own to show. */
  readonly inPieces: boolean;
  readonly first: boolean;
  readonly last: boolean;
  readonly actions: StageActions;
}

/** A stage inside a branch, with its own branches under it. */
const NestedRow = memo(function NestedRow({ stage, name, depth, inPieces, first, last, actions }: NestedProps) {
  const { id, on } = stage;
  const catalogue = useCatalogue();
  const selected = useAppSelector((state) => state.view.selectedStage === id);
  const select = () => actions.select(id);
  return (
    <Box data-stage={id} onKeyDown={moveByKey(id, actions)}>
      <Box height={NESTED_HEIGHT}>
        <CascadeRow
          title={stageTitle(catalogue, stage)}
          indent={INDENT * depth}
          off={!on}
          rowKey={`stage:${id}`}
          stageId={id}
          unshown={inPieces ? 'applied to each slice' : undefined}
          selected={selected}
          meter={<StageState stage={stage} />}
          onSelect={select}
          lead={
            <>
              <StageNumber stage={stage} number={name} selected={selected} onSelect={select} />
              <FamilyMark family={catalogue.of(stage).family} wordless />
            </>
          }
          actions={<StageButtons stage={stage} first={first} last={last} actions={actions} />}
        />
      </Box>
      {stage.branches && <BranchRows holder={stage} number={name} depth={depth + 1} actions={actions} />}
    </Box>
  );
});

/** `centre`, `40 % L`. */
function showPlace(pan: number): string {
  if (Math.abs(pan) < 0.005) return 'centre';
  return `${Math.round(100 * Math.abs(pan))} % ${pan < 0 ? 'L' : 'R'}`;
}

function parsePlace(text: string): number {
  const word = text.trim().toLowerCase();
  if (/^(centre|center|middle|c|0 ?%?)$/.test(word)) return 0;
  const match = /^([\d.,]*)\s*%?\s*(l|left|r|right)$/.exec(word);
  if (!match) throw new InputError(`"${text}" is no pan; write centre, 40 % L or 40 % R.`);
  const share = match[1] === '' ? 1 : parseNumber(match[1]) / 100;
  return match[2].startsWith('l') ? -share : share;
}
