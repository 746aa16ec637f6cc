import { Box, Flex, Link, Text } from '@chakra-ui/react';
import { MoonStar } from 'lucide-react';
import { NavLink, Outlet, useLocation } from 'react-router';
import { IconAction } from '../parts/IconAction.tsx';
import { TipLayer } from '../parts/Tip.tsx';
import { toggleColourMode } from './colourMode.ts';
import { ErrorBoundary } from './ErrorBoundary.tsx';

const PLACES = [
  ['/', 'Start'],
  ['/library', 'Library'],
  ['/sounds', 'Sounds'],
  ['/reference', 'Reference'],
] as const;

/** The top bar and, under it, the view. A view that breaks leaves the bar alone. */
export function Frame() {
  const { pathname } = useLocation();
  return (
    <Flex direction="column" height="100vh" minHeight="0">
      <Link
        href="#main"
        position="absolute"
        left="-999px"
        _focus={{ left: '2', top: '2', zIndex: 10, bg: 'sheet', p: '2' }}
      >
        Skip to content
      </Link>
      <Flex
        as="header"
        align="center"
        gap="6"
        px="4"
        height="42px"
        bg="shade"
        borderBottomWidth="1px"
        borderColor="rule"
        flexShrink={0}
      >
        <Text fontFamily="heading" fontWeight="700" fontSize="lg" color="copper">
          Hexenkessel
        </Text>
        <Flex as="nav" gap="1" aria-label="Views">
          {PLACES.map(([to, title]) => (
            <Link
              key={to}
              asChild
              px="3"
              py="1.5"
              color="ink"
              textDecoration="none"
              _currentPage={{ borderBottom: '2px solid', borderColor: 'copper', fontWeight: '600' }}
            >
              <NavLink to={to} end={to === '/'}>
                {title}
              </NavLink>
            </Link>
          ))}
          {pathname.startsWith('/bench/') && (
            <Text px="3" py="1.5" borderBottom="2px solid" borderColor="copper" fontWeight="600" aria-current="page">
              Bench
            </Text>
          )}
          {pathname.startsWith('/sheet/') && (
            <Text px="3" py="1.5" borderBottom="2px solid" borderColor="copper" fontWeight="600" aria-current="page">
              Sheet
            </Text>
          )}
        </Flex>
        <Flex flex="1" />
        <IconAction label="Paper or soot" onClick={toggleColourMode}>
          <MoonStar size={16} />
        </IconAction>
      </Flex>
      <TipLayer />
      <Box as="main" id="main" flex="1" minHeight="0">
        <ErrorBoundary key={pathname}>
          <Outlet />
        </ErrorBoundary>
      </Box>
    </Flex>
  );
}
