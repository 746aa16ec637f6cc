import { Box, Text } from '@chakra-ui/react';
import { laterPart } from '../parts/laterPart.tsx';
import type { StagePicture } from '@hexenkessel/core/stages';
import { CurvesView } from './CurvesView.tsx';
import type { SetValues } from './setValues.ts';
import type { PlayingStage } from './MovingHandle.tsx';

// Each comes with the first stage that is drawn so.
const RepeatsView = laterPart(async () => (await import('./RepeatsView.tsx')).RepeatsView);
const RoomView = laterPart(async () => (await import('./RoomView.tsx')).RoomView);
const VoicesView = laterPart(async () => (await import('./VoicesView.tsx')).VoicesView);
const StepsView = laterPart(async () => (await import('./StepsView.tsx')).StepsView);

interface Props {
  readonly picture: StagePicture;
  readonly onSet?: SetValues | undefined;
  readonly position?: (() => number | undefined) | undefined;
  readonly playing?: PlayingStage | undefined;
}

/** The picture that belongs to a stage. */
export function StagePictureView({ picture, onSet, position, playing }: Props) {
  return (
    <Box as="figure" width="100%" borderWidth="1px" borderColor="rule" bg="paper" data-picture={picture.type}>
      <Box height="150px">{drawn(picture, onSet, position, playing)}</Box>
      <Text as="figcaption" fontSize="xs" color="faded" px="2" pb="1" fontStyle="italic">
        {picture.title}
      </Text>
    </Box>
  );
}

function drawn(picture: StagePicture, onSet: Props['onSet'], position: Props['position'], playing: Props['playing']) {
  switch (picture.type) {
    case 'curves':
      return <CurvesView picture={picture} onSet={onSet} playing={playing} />;
    case 'repeats':
      return <RepeatsView.Part picture={picture} />;
    case 'room':
      return <RoomView.Part picture={picture} onSet={onSet} />;
    case 'steps':
      return <StepsView.Part picture={picture} onSet={onSet} />;
    case 'voices':
      return <VoicesView.Part picture={picture} position={position} />;
  }
}
