import { Link } from '@chakra-ui/react';
import { Link as RouterLink } from 'react-router';

interface Props {
  readonly to: string;
  readonly title: string;
  readonly current: boolean;
}

/** One of the entries beside what is shown, marked while it is the one. */
export function EntryLink({ to, title, current }: Props) {
  return (
    <Link
      asChild
      display="block"
      px="2"
      py="1"
      color="ink"
      textDecoration="none"
      borderLeft="3px solid transparent"
      _currentPage={{ borderLeftColor: 'copper', bg: 'shade', fontWeight: '600' }}
    >
      <RouterLink to={to} aria-current={current ? 'page' : undefined}>
        {title}
      </RouterLink>
    </Link>
  );
}
