import { Box, Button, Flex, Text } from '@chakra-ui/react';
import { FlipVertical2, FoldVertical, Headphones, Plus, X, UnfoldVertical, VolumeX } from 'lucide-react';
import type { ReactNode } from 'react';
import { InputError, parseLevel, parseNumber, printLevel } from '@hexenkessel/core/model';
import { BUILT_INS, type Params, type ResolvedValues } from '@hexenkessel/core/stages';
import {
  addBranch,
  branchLetter,
  branchTitle,
  changeBranch,
  removeBranch,
  stageTitle,
  type BranchDocument,
  type ChainDocument,
  type StageDocument,
} from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { addToSet, foldSwitched, soloSwitched } from '../chain/benchSlice.ts';
import { edit } from '../chain/edit.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { FamilyMark } from '../parts/family.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { CascadeRow } from './CascadeRow.tsx';
import type { RowKey, RowPicture } from './renderReport.ts';
import { StageButtons, StageNumber, moveByKey } from './StageControls.tsx';
import type { TimeScale } from './timeScale.ts';
import type { StageActions } from './useStageActions.ts';
import { useCatalogue } from '../chain/useCatalogue.ts';

interface Props {
  readonly document: ChainDocument;
  /** The stage whose branches these are. */
  readonly holder: StageDocument;
  /** What stands before the numbers of the stages: `2` gives 2a1, 2a2, 2b1 … */
  readonly number: string;
  readonly depth: number;
  readonly scale: TimeScale;
  readonly sampleRate: number;
  readonly pictures: Readonly<Partial<Record<RowKey, RowPicture>>>;
  readonly stale: ReadonlySet<RowKey>;
  /** What goes into the holder. */
  readonly ghost: RowPicture | undefined;
  readonly actions: StageActions;
  readonly meterOf: (id: string) => ReactNode;
  readonly onAdd: () => void;
}

const NESTED_HEIGHT = '66px';
const INDENT = 14;

/** The branches of a stage that holds stages, each with the rows of the stages in it. */
export function BranchRows(props: Props) {
  const { holder, depth } = props;
  const dispatch = useAppDispatch();
  const folded = useAppSelector((state) => state.bench.folded.includes(holder.id));
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
            onClick={() => dispatch(edit('add a branch', (before) => addBranch(BUILT_INS, before, holder.id)))}
          >
            <Plus size={12} /> branch
          </Button>
        )}
      </Flex>
      {!folded &&
        branches.map((branch, index) => <BranchRow key={branch.id} {...props} branch={branch} index={index} />)}
    </Box>
  );
}

function BranchRow(props: Props & { readonly branch: BranchDocument; readonly index: number }) {
  const {
    branch,
    holder,
    index,
    document,
    number,
    depth,
    scale,
    sampleRate,
    pictures,
    stale,
    actions,
    meterOf,
    onAdd,
  } = props;
  const dispatch = useAppDispatch();
  const selectedStage = useAppSelector((state) => state.bench.selectedStage);
  const catalogue = useCatalogue();
  const solo = useAppSelector((state) => state.bench.solos.includes(branch.id));
  const title = branchTitle(BUILT_INS, document, branch.id);
  const definition = catalogue.of(holder);
  const inPieces = definition.runs === 'offline';
  const { min } = definition.holds!.count(holder.settings as ResolvedValues<Params>);
  const letter = branchLetter(index);
  const change = (step: string, part: Partial<BranchDocument>) =>
    dispatch(edit(`${step} of ${title}`, (before) => changeBranch(before, branch.id, (old) => ({ ...old, ...part }))));
  let ghost = props.ghost;
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
          onClick={() => change('mute', { muted: !branch.muted })}
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
          onClick={() => change('polarity', { inverted: !branch.inverted })}
        >
          <FlipVertical2 size={14} />
        </IconAction>
        <TypedValue
          label={`Level of ${title}`}
          text={printLevel(branch.level)}
          width="74px"
          onCommit={(text) => change('level', { level: parseLevel(text) })}
        />
        <TypedValue
          label={`Pan of ${title}`}
          text={showPlace(branch.pan)}
          width="74px"
          onCommit={(text) => change('place', { pan: parsePlace(text) })}
        />
        <Button
          size="2xs"
          variant="ghost"
          color="copper"
          onClick={() => {
            dispatch(addToSet(branch.id));
            onAdd();
          }}
        >
          <Plus size={13} /> add stage in {title}
        </Button>
        {(holder.branches ?? []).length > min && (
          <IconAction
            label={`Remove ${title}`}
            size="2xs"
            onClick={() => dispatch(edit(`remove ${title}`, (before) => removeBranch(before, branch.id)))}
          >
            <X size={13} />
          </IconAction>
        )}
      </Flex>
      {branch.stages.map((stage, place) => {
        const key: RowKey = `stage:${stage.id}`;
        const before = ghost;
        if (stage.on) ghost = pictures[key] ?? ghost;
        const name = `${number}${letter}${place + 1}`;
        return (
          <Box key={stage.id} data-stage={stage.id} onKeyDown={moveByKey(stage.id, actions)}>
            <Box height={NESTED_HEIGHT}>
              <CascadeRow
                title={stageTitle(catalogue, stage)}
                indent={INDENT * depth}
                off={!stage.on}
                scale={scale}
                sampleRate={sampleRate}
                row={stage.on ? pictures[key] : before}
                ghost={before}
                stale={stage.on && !inPieces && (stale.has(key) || !pictures[key])}
                unshown={inPieces ? 'applied to each slice' : undefined}
                selected={selectedStage === stage.id}
                meter={meterOf(stage.id)}
                onSelect={() => actions.select(stage.id)}
                lead={
                  <>
                    <StageNumber
                      stage={stage}
                      number={name}
                      selected={selectedStage === stage.id}
                      onSelect={() => actions.select(stage.id)}
                    />
                    <FamilyMark family={catalogue.of(stage).family} wordless />
                  </>
                }
                actions={<StageButtons stage={stage} actions={actions} />}
              />
            </Box>
            {stage.branches && <BranchRows {...props} holder={stage} number={name} depth={depth + 1} ghost={before} />}
          </Box>
        );
      })}
    </Box>
  );
}

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
