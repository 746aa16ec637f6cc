import { Box, Heading, HStack, Stack, Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import {
  BUILT_INS,
  groupsOf,
  labelOf,
  stepsText,
  type SettingValue,
  type StagePicture,
} from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { ParameterRow } from '../parameters/ParameterRow.tsx';
import { FamilyMark } from '../parts/family.tsx';
import { StagePictureView } from '../pictures/StagePictureView.tsx';
import { pictures } from '../pictures/usePicture.ts';

interface Props {
  /** Of one stage, the script. */
  readonly chain: ChainDocument;
  readonly onChange: (key: string, value: SettingValue) => boolean;
}

/** The stage that a script is, as it will be seen in a chain: what it says of itself, its pictures, its rows. */
export function ScriptStage({ chain, onChange }: Props) {
  const [stage] = chain.stages;
  const definition = BUILT_INS.for(chain).of(stage);
  const drawn = usePictures(chain);
  const [explained, setExplained] = useState<string>();
  const param = explained === undefined ? undefined : definition.params[explained];
  return (
    <Stack gap="2">
      <HStack justify="space-between" align="baseline">
        <Heading as="h2" size="lg">
          {definition.title}
        </Heading>
        <FamilyMark family={definition.family} />
      </HStack>
      <Text fontSize="sm" color="faded">
        {definition.summary}
      </Text>
      {definition.runs === 'live' && definition.steps && (
        <Text fontSize="sm" color="faded" data-steps>
          Takes {stepsText(definition.steps)}.
        </Text>
      )}
      {drawn.map((picture) => (
        <StagePictureView key={picture.title} picture={picture} />
      ))}
      <Box data-rows>
        {groupsOf(definition).map(({ title, params }) => (
          <Box key={title}>
            {title !== '' && (
              <Text fontSize="sm" fontFamily="heading" color="copper" mt="1">
                {title}
              </Text>
            )}
            {params.map(([key, one]) => (
              <ParameterRow
                key={key}
                name={key}
                param={one}
                value={stage.settings[key]}
                timing={chain.timing}
                onChange={onChange}
                onExplain={setExplained}
              />
            ))}
          </Box>
        ))}
        {Object.keys(definition.params).length === 0 && (
          <Text fontSize="sm" color="faded">
            It has no settings.
          </Text>
        )}
      </Box>
      <Text fontSize="sm" minHeight="42px" color="faded">
        {param && explained !== undefined ? `${labelOf(explained, param)}: ${param.doc}` : ''}
      </Text>
    </Stack>
  );
}

/** Both pictures of the stage as it is set; the last ones as long as the next are worked out. */
function usePictures(chain: ChainDocument): readonly StagePicture[] {
  const [shown, setShown] = useState<readonly StagePicture[]>([]);
  useEffect(() => {
    let left = false;
    pictures()
      .scriptPictures(chain.scripts[0].text, chain.stages[0], chain.timing)
      .then((drawn) => {
        if (!left) setShown(drawn);
      })
      .catch(() => undefined); // the rows say what is set
    return () => {
      left = true;
    };
  }, [chain]);
  return shown;
}
