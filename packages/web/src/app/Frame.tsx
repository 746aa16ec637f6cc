import { Box, Flex, Link, Text } from '@chakra-ui/react';
import { MoonStar } from 'lucide-react';
import { ErrorBoundary } from 'react-error-boundary';
import { NavLink, Outlet, matchPath, useLocation } from 'react-router';
import { IconAction } from '../parts/IconAction.tsx';
import { TipLayer } from '../parts/Tip.tsx';
import { toggleColourMode } from './colourMode.ts';
import { Reachable } from './Reachable.tsx';
import { Stopped } from './Stopped.tsx';
import { useArrival } from './useArrival.ts';

/** What the bar says of a view. */
interface Place {
  readonly path: string;
  readonly title: string;
  readonly always: boolean;
}

/** The top bar and, under it, the view. A view that breaks leaves the bar alone. */
export function Frame({ views }: { readonly views: readonly Place[] }) {
  const { pathname } = useLocation();
  const { main, announced } = useArrival();
  return (
    <Flex direction="column" height="100vh" minHeight="0" data-print="whole">
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
        columnGap={{ base: '2', md: '6' }}
        px={{ base: '2', md: '4' }}
        minHeight="42px"
        wrap="wrap"
        bg="shade"
        borderBottomWidth="1px"
        borderColor="rule"
        flexShrink={0}
        data-print="never"
      >
        <Text fontFamily="heading" fontWeight="700" fontSize="lg" color="copper">
          Hexenkessel
        </Text>
        <Flex as="nav" columnGap="1" wrap="wrap" aria-label="Views">
          {views
            .filter(({ always }) => always)
            .map(({ path, title }) => (
              <Link
                key={path}
                asChild
                px={{ base: '1.5', md: '3' }}
                py="1.5"
                color="ink"
                textDecoration="none"
                _currentPage={{ borderBottom: '2px solid', borderColor: 'copper', fontWeight: '600' }}
              >
                <NavLink to={path} end={path === '/'}>
                  {title}
                </NavLink>
              </Link>
            ))}
          {views
            .filter(({ path, always }) => !always && matchPath(path, pathname))
            .map(({ path, title }) => (
              <Text
                key={path}
                px={{ base: '1.5', md: '3' }}
                py="1.5"
                borderBottom="2px solid"
                borderColor="copper"
                fontWeight="600"
                aria-current="page"
              >
                {title}
              </Text>
            ))}
        </Flex>
        <Flex flex="1" />
        <IconAction label="Paper or soot" onClick={toggleColourMode}>
          <MoonStar size={16} />
        </IconAction>
      </Flex>
      <Reachable />
      <TipLayer />
      <Box srOnly role="status" aria-label="Page">
        {announced}
      </Box>
      <Box
        as="main"
        id="main"
        ref={main}
        tabIndex={-1}
        flex="1"
        minHeight="0"
        data-print="whole"
        _focusVisible={{ outline: 'none' }}
      >
        <ErrorBoundary key={pathname} FallbackComponent={Stopped}>
          <Outlet />
        </ErrorBoundary>
      </Box>
    </Flex>
  );
}
