import { Box, Button, Flex, Grid, Text, VisuallyHidden } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { parseNumber } from '@hexenkessel/core/model';
import { BUILT_INS, printSetting } from '@hexenkessel/core/stages';
import { freeSettings, targetsOf, varied, type ChainDocument, type Variation } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { auditioned } from '../chain/playbackSlice.ts';
import { Scale } from '../parameters/Scale.tsx';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';
import { Tip } from '../parts/Tip.tsx';

const COUNT = 8;

/** Eight variations of the chain to hear and pick from. */
export function Draws({ document }: { readonly document: ChainDocument }) {
  const dispatch = useAppDispatch();
  const audition = useAppSelector((state) => state.playback.audition);
  const [amount, setAmount] = useState(0.3);
  const [seed, setSeed] = useState(1);
  const [over, setOver] = useState<Variation['over']>(document.panel.length > 0 ? 'panel' : 'settings');
  const drawn = useMemo(
    () =>
      Array.from({ length: COUNT }, (_, n) => varied(BUILT_INS, document, { amount, seed: seed * COUNT + n, over })),
    [document, amount, seed, over],
  );
  const free =
    over === 'panel' ? document.panel.filter(({ locked }) => !locked).length : freeSettings(BUILT_INS, document).length;
  return (
    <Box>
      <Text color="faded" mb="1">
        {over === 'panel'
          ? `${free} of ${document.panel.length} controls are randomised within their range; locked ones stay.`
          : `${free} parameters are randomised within their range; what is locked (K on a row) or driven by panel stays.`}
      </Text>
      <Grid templateColumns="64px 1fr 56px" gap="2" alignItems="center">
        <Text>scope</Text>
        <Choice<Variation['over']>
          label="Scope"
          value={over}
          options={[
            ['panel', 'panel'],
            ['settings', 'all parameters'],
          ]}
          gridColumn="2 / 4"
          onChange={setOver}
        />
        <Text>amount</Text>
        <Scale
          label="Amount"
          place={amount}
          defaultPlace={0.3}
          min={0}
          max={100}
          now={100 * amount}
          text={`${Math.round(100 * amount)} %`}
          onPlace={(place) => setAmount(Math.max(0, Math.min(1, Math.round(100 * place) / 100)))}
          onStep={(steps) => setAmount((before) => Math.max(0, Math.min(1, before + steps / 100)))}
          onDefault={() => setAmount(0.3)}
        />
        <Text fontFamily="mono" textAlign="end">
          {Math.round(100 * amount)} %
        </Text>
        <Text>seed</Text>
        <TypedValue
          label="Random seed"
          text={String(seed)}
          borderColor="rule"
          onCommit={(text) => setSeed(Math.max(0, Math.round(parseNumber(text))))}
        />
        <Button size="2xs" variant="outline" borderColor="rule" onClick={() => setSeed(seed + 1)}>
          randomise
        </Button>
      </Grid>
      <Grid templateColumns="repeat(4, 1fr)" gap="2" mt="2" role="group" aria-label="Eight variations">
        {drawn.map((variation, n) => {
          const title = `variation ${n + 1} of seed ${seed}`;
          const heard = audition?.title === title;
          const changes = changesOf(document, variation);
          return (
            <Tip key={n} text={told(changes)}>
              <Button
                variant="outline"
                borderColor={heard ? 'copper' : 'rule'}
                borderWidth={heard ? '2px' : '1px'}
                height="64px"
                px="1"
                display="block"
                aria-pressed={heard}
                disabled={free === 0}
                onClick={() => dispatch(auditioned(heard ? null : { title, document: variation }))}
              >
                <Flex justify="space-between" fontSize="xs">
                  <Text fontFamily="heading">
                    <VisuallyHidden>Audition variation </VisuallyHidden>
                    {n + 1}
                  </Text>
                  <Text color="faded">
                    {changes.length} {changes.length === 1 ? 'change' : 'changes'}
                  </Text>
                </Flex>
                <Profile document={variation} before={document} />
              </Button>
            </Tip>
          );
        })}
      </Grid>
    </Box>
  );
}

const MOST_TOLD = 8;

/** What differs, as it is afterwards. */
function changesOf(before: ChainDocument, after: ChainDocument): readonly string[] {
  const old = new Map(targetsOf(BUILT_INS, before).map(({ target, value }) => [target, JSON.stringify(value)]));
  return targetsOf(BUILT_INS, after)
    .filter(({ target, value }) => old.get(target) !== JSON.stringify(value))
    .map(({ owner, label, param, value }) => `${owner}, ${label}: ${printSetting(param, value)}`);
}

function told(changes: readonly string[]): string {
  const more = changes.length - MOST_TOLD;
  return changes.slice(0, MOST_TOLD).join('\n') + (more > 0 ? `\nand ${more} more` : '');
}

/** A picture of a variation: its controls, or what it changes, as strokes of different height. */
function Profile({ document, before }: { readonly document: ChainDocument; readonly before: ChainDocument }) {
  const heights = useMemo(() => profile(document, before), [document, before]);
  return (
    <svg viewBox="0 0 80 26" style={{ width: '100%', height: 30 }} aria-hidden preserveAspectRatio="none">
      {heights.map((height, n) => {
        const x = ((n + 0.5) * 80) / heights.length;
        return (
          <line
            key={n}
            x1={x}
            x2={x}
            y1="25"
            y2={25 - 23 * height}
            stroke="var(--chakra-colors-verdigris)"
            strokeWidth={Math.max(1.5, 40 / heights.length)}
          />
        );
      })}
    </svg>
  );
}

function profile(document: ChainDocument, before: ChainDocument): number[] {
  if (document.panel.length > 0)
    return document.panel.map(({ min, max, value }) => (max === min ? 0 : (value - min) / (max - min)));
  const free = freeSettings(BUILT_INS, before).flatMap(({ target, param }) =>
    'curve' in param && 'min' in param ? [target] : [],
  );
  const targets = new Map(targetsOf(BUILT_INS, document).map((target) => [target.target, target]));
  return free.slice(0, 16).map((target) => {
    const { param, value } = targets.get(target) ?? {};
    if (!param || !('min' in param) || typeof value !== 'number') return 0.5;
    return Math.max(0, Math.min(1, (value - param.min) / (param.max - param.min)));
  });
}
