import { Box, Button, Flex, HStack, Stack, Text } from '@chakra-ui/react';
import { Copy, Download, Waypoints, X } from 'lucide-react';
import { memo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, type ChainDocument } from '@hexenkessel/core/chain';
import type { Place, ScriptFault } from '@hexenkessel/core/script';
import { problemOf, useCreateChainMutation, useDeleteScriptMutation } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { fileTitle, saveFile } from '../files/saveFile.ts';
import { ScriptEditor } from './ScriptEditor.tsx';
import { ScriptSound } from './ScriptSound.tsx';
import { ScriptStage } from './ScriptStage.tsx';
import { useCheckedScript } from './useCheckedScript.ts';
import { useKeptScript, type Keeping } from './useKeptScript.ts';
import { useScriptChain } from './useScriptChain.ts';
import type { OpenScript } from './useScripts.ts';
import { useSeen } from './useSeen.ts';
import { useTrialSound } from './useTrialSound.ts';

// Neither has anything to do with a key that is pressed.
const Sound = memo(ScriptSound);
const Stage = memo(ScriptStage);

interface Props {
  readonly script: OpenScript;
  /** Makes a script of one’s own from a text. */
  readonly onCopy: (text: string) => void;
}

/** A script at work: its text, what is wrong with it, how it sounds, and the stage that it is. */
export function ScriptDesk({ script, onCopy }: Props) {
  const own = script.from === 'own';
  const kept = useKeptScript(script);
  const typed = useRef(0);
  const { chain, set, setText } = useScriptChain();
  const { good, faults, waiting } = useCheckedScript(kept.text, typed, setText);
  const seen = useSeen(chain);
  const trial = useTrialSound();
  const goTo = useRef<(place: Place) => void>(undefined);
  return (
    <Flex
      flex="1"
      minWidth="0"
      minHeight="0"
      direction={{ base: 'column', lg: 'row' }}
      overflowY={{ base: 'auto', lg: 'visible' }}
    >
      <Stack flex="1" minWidth="0" minHeight={{ base: '60vh', lg: '0' }} gap="0">
        <HStack px="3" py="2" gap="2" wrap="wrap" borderBottomWidth="1px" borderColor="rule">
          <Text fontSize="sm" color="faded" role="status" flex="1" data-keeping={kept.keeping}>
            {own
              ? KEEPING[kept.keeping]
              : script.from === 'examples'
                ? 'An example: make it yours to change it.'
                : 'A favourite, read from its folder: make it yours to change it.'}
          </Text>
          {!own && (
            <Button size="xs" colorPalette="copperInk" onClick={() => onCopy(script.text)}>
              <Copy size={14} /> Make it mine
            </Button>
          )}
          <UseInChain chain={chain} sound={trial.id} />
          <IconAction
            label="Download script file"
            onClick={() => saveFile(`${fileTitle(script.title)}.hxk.js`, kept.text, 'text/javascript')}
          >
            <Download size={16} />
          </IconAction>
          {own && <DeleteScript id={script.id} title={script.title} onDeleted={kept.discard} />}
        </HStack>
        {kept.keeping === 'changed elsewhere' && (
          <HStack px="3" py="2" bg="shade" role="alert" wrap="wrap">
            <Text flex="1">{kept.fault}</Text>
            <Button size="xs" variant="outline" onClick={() => kept.settle('theirs')}>
              Take the other one
            </Button>
            <Button size="xs" variant="outline" onClick={() => kept.settle('mine')}>
              Keep this one
            </Button>
          </HStack>
        )}
        {kept.keeping === 'not kept' && (
          <Text px="3" py="2" bg="shade" color="alarm" role="alert">
            {kept.fault}
          </Text>
        )}
        <Box flex="1" minHeight="0">
          <ScriptEditor
            id={script.id}
            text={kept.text}
            faults={faults}
            readOnly={!own}
            onText={(text) => {
              typed.current = performance.now();
              kept.setText(text);
            }}
            onReady={(way) => (goTo.current = way)}
          />
        </Box>
        <Faults
          faults={faults}
          sounds={good !== '' && good !== kept.text && !waiting}
          onGo={(place) => goTo.current?.(place)}
        />
        <Box px="3" py="2" borderTopWidth="1px" borderColor="rule">
          {chain && seen && (
            <Sound
              chain={chain}
              seen={seen}
              sounds={trial.sounds}
              chosen={trial.id}
              onChoose={trial.choose}
              typed={typed}
            />
          )}
        </Box>
      </Stack>
      <Box
        as="section"
        aria-label="The stage"
        width={{ base: '100%', lg: '428px' }}
        flexShrink={0}
        borderLeftWidth={{ base: '0', lg: '1px' }}
        borderColor="rule"
        px="3"
        py="3"
        overflowY="auto"
        data-compiled={waiting ? undefined : faults.length === 0 ? 'yes' : 'no'}
      >
        {seen ? (
          <Stage chain={seen} onChange={set} />
        ) : (
          <Text color="faded">The stage is shown as soon as the text is in order.</Text>
        )}
      </Box>
    </Flex>
  );
}

const KEEPING: Readonly<Record<Keeping, string>> = {
  kept: 'Kept.',
  keeping: 'Keeping …',
  'changed elsewhere': 'Not kept: changed in another window.',
  'not kept': 'Not kept.',
};

interface FaultsProps {
  readonly faults: readonly ScriptFault[];
  /** True while an earlier text is what is heard. */
  readonly sounds: boolean;
  readonly onGo: (place: Place) => void;
}

/** What is wrong with the text, each with its place. */
function Faults({ faults, sounds, onGo }: FaultsProps) {
  if (faults.length === 0) return null;
  return (
    <Box px="3" py="2" bg="shade" maxHeight="120px" overflowY="auto" role="group" aria-label="Faults">
      {faults.map((fault) => (
        <Box key={`${fault.line} ${fault.column} ${fault.message}`}>
          <button type="button" onClick={() => onGo(fault)} style={{ textAlign: 'start', cursor: 'pointer' }}>
            <Text as="span" fontFamily="mono" fontSize="xs" color="alarm">
              line {fault.line}, column {fault.column}
            </Text>{' '}
            <Text as="span" fontSize="sm">
              {fault.message}
            </Text>
          </button>
        </Box>
      ))}
      {sounds && (
        <Text fontSize="xs" color="faded">
          Until then the last text that was in order is heard.
        </Text>
      )}
    </Box>
  );
}

/** Opens a new chain with the script as it sounds, on the same sound. */
function UseInChain({
  chain,
  sound,
}: {
  readonly chain: ChainDocument | undefined;
  readonly sound: string | undefined;
}) {
  const navigate = useNavigate();
  const [createChain] = useCreateChainMutation();
  const open = async () => {
    if (!chain) return;
    const { stages, scripts } = chain;
    const { title } = BUILT_INS.for(chain).of(stages[0]);
    const result = await createChain({ document: { ...emptyChain(BUILT_INS, title), stages, scripts } });
    if ('data' in result && result.data)
      void navigate(`/bench/${result.data.id}${sound === undefined ? '' : `?sound=${sound}`}`);
    else tellFailure('No chain was made', problemOf(result.error).detail);
  };
  return (
    <Button size="xs" variant="outline" borderColor="rule" disabled={!chain} onClick={() => void open()}>
      <Waypoints size={14} /> Use in a new chain
    </Button>
  );
}

interface DeleteScriptProps {
  readonly id: string;
  readonly title: string;
  readonly onDeleted: () => void;
}

function DeleteScript({ id, title, onDeleted }: DeleteScriptProps) {
  const navigate = useNavigate();
  const [remove] = useDeleteScriptMutation();
  const [asked, setAsked] = useState(false);
  const go = async () => {
    const result = await remove(id);
    if (result.error) tellFailure('Not deleted', problemOf(result.error).detail);
    else {
      onDeleted();
      void navigate('/script', { replace: true });
    }
  };
  return (
    <>
      <IconAction label="Delete this script" onClick={() => setAsked(true)}>
        <X size={16} />
      </IconAction>
      {asked && (
        <PlainDialog
          title={`Delete “${title}”`}
          onClose={() => setAsked(false)}
          footer={
            <Button size="sm" colorPalette="copperInk" onClick={() => void go()}>
              Delete for good
            </Button>
          }
        >
          <Text>The text goes. Chains that use the script have a copy of their own, which stays.</Text>
        </PlainDialog>
      )}
    </>
  );
}
