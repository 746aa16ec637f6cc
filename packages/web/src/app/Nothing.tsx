import { Box, Heading, Link, List, Text } from '@chakra-ui/react';
import { Link as RouterLink, useLocation } from 'react-router';
import { usePageTitle } from '../parts/usePageTitle.ts';

const WAYS = [
  ['/', 'Start', 'take a sound and begin'],
  ['/library', 'Library', 'every chain, found by what it does'],
  ['/sounds', 'Sounds', 'sources and renders'],
  ['/script', 'Script', 'stages of your own, as text'],
] as const;

/** Answers an address that nothing is at. */
export function Nothing() {
  usePageTitle('Not found');
  const { pathname } = useLocation();
  return (
    <Box p="6">
      <Heading as="h1" size="2xl" mb="2">
        There is nothing here
      </Heading>
      <Text mb="3" overflowWrap="anywhere">
        No view has the address {pathname}. What you look for may be in one of these:
      </Text>
      <List.Root ps="5">
        {WAYS.map(([path, title, what]) => (
          <List.Item key={path}>
            <Link asChild color="copper">
              <RouterLink to={path}>{title}</RouterLink>
            </Link>
            : {what}
          </List.Item>
        ))}
      </List.Root>
    </Box>
  );
}
