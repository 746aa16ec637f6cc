import { Box, chakra, useMediaQuery } from '@chakra-ui/react';
import { ChevronLeft, ChevronRight } from 'lucide-react';
import type { ReactNode } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { sideSet } from '../chain/viewSlice.ts';
import { BENCH_KEYS } from './benchKeys.ts';

const NARROW = '(max-width: 1099px)';
const WIDTH = 'clamp(424px, 33vw, 600px)';

/** The right side of the Bench; in a narrow window a drawer over the Cascade. */
export function RowsSide({ children }: { readonly children: ReactNode }) {
  const dispatch = useAppDispatch();
  const open = useAppSelector((state) => state.view.sideOpen);
  const onOpen = (next: boolean) => dispatch(sideSet(next));
  const [narrow] = useMediaQuery([NARROW]);
  useHotkeys(BENCH_KEYS.rows.keys, () => onOpen(!open), { enabled: narrow });
  if (!narrow)
    return (
      <Box width={WIDTH} flexShrink={0} borderLeftWidth="1px" borderColor="rule" bg="sheet" minHeight="0">
        {children}
      </Box>
    );
  const Arrow = open ? ChevronRight : ChevronLeft;
  return (
    <>
      {open && (
        <Box
          position="absolute"
          top="0"
          bottom="0"
          right="28px"
          width={`min(${WIDTH}, calc(100vw - 28px))`}
          zIndex="docked"
          bg="sheet"
          borderLeftWidth="1px"
          borderColor="ink"
          boxShadow="-6px 0 12px -8px var(--chakra-colors-ink)"
          onKeyDown={(event) => event.key === 'Escape' && onOpen(false)}
        >
          {children}
        </Box>
      )}
      <chakra.button
        type="button"
        aria-expanded={open}
        data-tip={`${open ? 'Close' : 'Open'} the parameter panel (${BENCH_KEYS.rows.shown})`}
        width="28px"
        flexShrink={0}
        bg="sheet"
        borderLeftWidth="1px"
        borderColor="rule"
        display="flex"
        flexDirection="column"
        alignItems="center"
        gap="2"
        pt="3"
        cursor="pointer"
        onClick={() => onOpen(!open)}
      >
        <Arrow size={16} />
        <Box as="span" fontSize="sm" css={{ writingMode: 'vertical-rl' }}>
          parameters, panel, modulation …
        </Box>
      </chakra.button>
    </>
  );
}
