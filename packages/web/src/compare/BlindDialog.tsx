import { Button, CloseButton, Dialog, HStack, Portal, Stack, Text } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import { Choice } from '../parts/Choice.tsx';
import {
  beginTrial,
  behind,
  isOver,
  pick,
  resultOf,
  type BlindTrial,
  type Button as TrialButton,
} from './blindTrial.ts';
import type { Candidate } from './useCompare.ts';

/** The two things of a running comparison; which of them is heard. */
export interface BlindPair {
  readonly things: readonly [Candidate, Candidate];
  readonly heard: 0 | 1;
}

interface Props {
  readonly candidates: readonly Candidate[];
  readonly pair: BlindPair | undefined;
  /** False until both can be heard at the same loudness. */
  readonly ready: boolean;
  readonly onPair: (pair: BlindPair | undefined) => void;
  readonly onClose: () => void;
}

const ROUNDS = ['4', '8', '12', '16'] as const;

/** Two things without their names, equally loud, over several rounds; then who was preferred and what chance says. */
export function BlindDialog({ candidates, pair, ready, onPair, onClose }: Props) {
  const [one, setOne] = useState(candidates[0]?.id ?? '');
  const [two, setTwo] = useState(candidates[1]?.id ?? '');
  const [rounds, setRounds] = useState<(typeof ROUNDS)[number]>('8');
  const [trial, setTrial] = useState<BlindTrial>();
  const [button, setButton] = useState<TrialButton>('X');
  const options = candidates.map(({ id, title }) => [id, title] as const);
  const begin = () => {
    const things = [one, two].map((id) => candidates.find((candidate) => candidate.id === id));
    if (!things[0] || !things[1]) return;
    const begun = beginTrial(Number(rounds), Math.random);
    setTrial(begun);
    setButton('X');
    onPair({ things: [things[0], things[1]], heard: behind(begun, 'X') });
  };
  const hear = (next: TrialButton, of: BlindTrial | undefined = trial) => {
    setButton(next);
    if (pair && of && !isOver(of)) onPair({ ...pair, heard: behind(of, next) });
  };
  const prefer = (chosen: TrialButton) => {
    if (!trial) return;
    const next = pick(trial, chosen);
    setTrial(next);
    if (!isOver(next)) hear('X', next);
  };
  const leave = () => {
    onPair(undefined);
    onClose();
  };
  return (
    <Dialog.Root open onOpenChange={leave} placement="center" modal={false} closeOnInteractOutside={false}>
      <Portal>
        <Dialog.Positioner pointerEvents="none">
          <Dialog.Content bg="sheet" pointerEvents="auto" maxWidth="30rem" borderWidth="1px" borderColor="ink">
            <Dialog.Header pb="1">
              <Dialog.Title>Blind A/B test</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="5">
              {!trial || !pair ? (
                <Stack gap="3">
                  <Text color="faded">
                    Two settings play under the names X and Y, drawn anew in every round and equally loud. Say each time
                    which you prefer.
                  </Text>
                  <HStack>
                    <Choice label="First" value={one} options={options} onChange={setOne} />
                    <Text>or</Text>
                    <Choice label="Second" value={two} options={options} onChange={setTwo} />
                    <Choice
                      label="Rounds"
                      value={rounds}
                      options={ROUNDS.map((n) => [n, `${n} rounds`] as const)}
                      onChange={setRounds}
                      width="130px"
                    />
                  </HStack>
                  <Button size="sm" colorPalette="copperInk" disabled={one === two} onClick={begin}>
                    Begin
                  </Button>
                  {one === two && <Text color="alarm">Choose two different settings.</Text>}
                </Stack>
              ) : isOver(trial) ? (
                <Result trial={trial} pair={pair} onAgain={() => setTrial(undefined)} />
              ) : (
                <Round trial={trial} button={button} ready={ready} onHear={hear} onPrefer={prefer} />
              )}
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

interface RoundProps {
  readonly trial: BlindTrial;
  readonly button: TrialButton;
  readonly ready: boolean;
  readonly onHear: (button: TrialButton) => void;
  readonly onPrefer: (button: TrialButton) => void;
}

function Round({ trial, button, ready, onHear, onPrefer }: RoundProps) {
  return (
    <Stack gap="3">
      <Text fontFamily="mono">
        round {trial.picks.length + 1} of {trial.swapped.length}
      </Text>
      {!ready && <Text role="status">Preparing both at the same loudness …</Text>}
      <HStack>
        {(['X', 'Y'] as const).map((name) => (
          <Button
            key={name}
            flex="1"
            size="lg"
            fontFamily="heading"
            variant={button === name ? 'solid' : 'outline'}
            aria-pressed={button === name}
            disabled={!ready}
            onClick={() => onHear(name)}
          >
            hear {name}
          </Button>
        ))}
      </HStack>
      <HStack>
        {(['X', 'Y'] as const).map((name) => (
          <Button
            key={name}
            flex="1"
            size="sm"
            variant="outline"
            borderColor="copper"
            disabled={!ready}
            onClick={() => onPrefer(name)}
          >
            I prefer {name}
          </Button>
        ))}
      </HStack>
    </Stack>
  );
}

function Result({ trial, pair, onAgain }: { trial: BlindTrial; pair: BlindPair; onAgain: () => void }) {
  const { counts, chance } = useMemo(() => resultOf(trial), [trial]);
  const [first, second] = pair.things;
  const share = chance >= 0.995 ? 'always' : `in ${(100 * chance).toFixed(chance < 0.1 ? 1 : 0)} % of cases`;
  return (
    <Stack gap="3" data-testid="blind-result">
      <Text fontSize="lg">
        {first.title}: {counts[0]} · {second.title}: {counts[1]}
      </Text>
      <Text>
        Mere guessing would be at least as one-sided {share}.{' '}
        {chance < 0.05 ? 'The preference is unlikely to be chance.' : 'This does not tell the two apart.'}
      </Text>
      <Button size="sm" variant="outline" borderColor="rule" onClick={onAgain}>
        Repeat
      </Button>
    </Stack>
  );
}
