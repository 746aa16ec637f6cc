import {
  Activity,
  AudioWaveform,
  Flame,
  FlipHorizontal2,
  Landmark,
  Music2,
  ScatterChart,
  SlidersHorizontal,
  Timer,
  Workflow,
  type LucideIcon,
} from 'lucide-react';
import { HStack, Text } from '@chakra-ui/react';
import { FAMILY_TITLES, type Family } from '@hexenkessel/core/stages';

const GLYPHS: Record<Family, LucideIcon> = {
  time: Timer,
  space: Landmark,
  motion: AudioWaveform,
  tone: SlidersHorizontal,
  drive: Flame,
  dynamics: Activity,
  pitch: Music2,
  grain: ScatterChart,
  clip: FlipHorizontal2,
  plumbing: Workflow,
};

/** Light theme, dark theme. */
const TINTS: Record<Family, [string, string]> = {
  time: ['#7a4a12', '#e3b26d'],
  space: ['#2c5574', '#8fbddd'],
  motion: ['#6b3d78', '#cfa3db'],
  tone: ['#4e5a1c', '#bccb7c'],
  drive: ['#96301f', '#f09483'],
  dynamics: ['#6d4a55', '#d9aebb'],
  pitch: ['#1f5f5b', '#7fcac4'],
  grain: ['#635021', '#d3bd83'],
  clip: ['#22604f', '#76c2ab'],
  plumbing: ['#55525c', '#b9b4c2'],
};

/** A family's glyph and word: colour is never the only sign. */
export function FamilyMark({ family, wordless = false }: { family: Family; wordless?: boolean }) {
  const Glyph = GLYPHS[family];
  const [light, dark] = TINTS[family];
  return (
    <HStack gap="1" color={{ base: light, _dark: dark }} display="inline-flex" title={FAMILY_TITLES[family]}>
      <Glyph size={15} strokeWidth={1.8} aria-hidden />
      {wordless ? null : (
        <Text as="span" fontSize="xs">
          {FAMILY_TITLES[family]}
        </Text>
      )}
    </HStack>
  );
}
