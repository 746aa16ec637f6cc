import { Flex } from '@chakra-ui/react';
import { useRef } from 'react';
import type { RoomPicture } from '@hexenkessel/core/stages';
import type { SetValues } from './setValues.ts';
import { RoomProjection, type RoomAxis } from './RoomProjection.tsx';

/** Units that the pictures are high, and that the two are wide. */
const HEIGHT = 150;
const PLAN = 240;
const SECTION = 160;
/** Metres that the pictures are high, in steps, so that a corner moves under the hand and not the picture. */
const VIEWS = [3, 4, 5, 6.5, 9, 12, 16, 22, 30, 40, 55, 75, 100];

interface Props {
  readonly picture: RoomPicture;
  readonly onSet?: SetValues | undefined;
}

/** The room from above and from the side, its front on the right: corners, source and listener are dragged or moved with the keys. */
export function RoomView({ picture, onSet }: Props) {
  const { length, width, height, source, listener } = picture;
  const wanted = 1.15 * Math.max(width, height, (length * HEIGHT) / SECTION);
  const view = useRef(VIEWS.find((metres) => metres >= wanted) ?? 100);
  // It changes when the room no longer fits, or fills less than half of it.
  if (wanted > view.current || wanted < view.current / 2.2)
    view.current = VIEWS.find((metres) => metres >= wanted) ?? 100;
  const scale = HEIGHT / view.current;
  const along: RoomAxis = {
    size: 'length',
    place: 'Along',
    metres: length,
    most: 60,
    source: source[0],
    listener: listener[0],
  };
  const across: RoomAxis = {
    size: 'width',
    place: 'Across',
    metres: width,
    most: 60,
    source: source[1],
    listener: listener[1],
  };
  const up: RoomAxis = {
    size: 'height',
    place: 'Height',
    metres: height,
    most: 30,
    source: source[2],
    listener: listener[2],
  };
  const common = { scale, high: HEIGHT, onSet };
  return (
    <Flex height="100%" gap="1">
      <RoomProjection
        {...common}
        title={picture.title}
        text="from above"
        wide={PLAN}
        horizontal={along}
        vertical={across}
      />
      <RoomProjection
        {...common}
        title="The room from the side"
        text="from the side"
        wide={SECTION}
        horizontal={along}
        vertical={up}
        upwards
      />
    </Flex>
  );
}
