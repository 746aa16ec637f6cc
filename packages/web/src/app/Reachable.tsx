import { HStack, Text } from '@chakra-ui/react';
import { Unplug } from 'lucide-react';
import { useEffect } from 'react';
import { api, TAGS } from '../api/api.ts';
import { cameBack, wentAway } from '../api/reachableSlice.ts';
import { useAppDispatch, useAppSelector } from './store.ts';

const AGAIN = 2000; // milliseconds until a server that is away is asked again

const answers = () =>
  fetch('/api/health', { cache: 'no-store' }).then(
    ({ ok }) => ok,
    () => false,
  );

/** Says while the server does not answer, and shows everything anew when it does. */
export function Reachable() {
  const dispatch = useAppDispatch();
  const away = useAppSelector((state) => state.reachable.away);
  useEffect(() => {
    const look = () => void answers().then((here) => !here && dispatch(wentAway()));
    window.addEventListener('offline', look);
    return () => window.removeEventListener('offline', look);
  }, [dispatch]);
  useEffect(() => {
    if (!away) return undefined;
    const timer = setInterval(async () => {
      if (!(await answers())) return;
      dispatch(cameBack());
      dispatch(api.util.invalidateTags([...TAGS]));
    }, AGAIN);
    return () => clearInterval(timer);
  }, [away, dispatch]);
  return (
    <HStack
      role="status"
      px={away ? '4' : '0'}
      py={away ? '1' : '0'}
      bg="alarm"
      color="paper"
      fontSize="sm"
      flexShrink={0}
      data-print="never"
    >
      {away && (
        <>
          <Unplug size={15} aria-hidden />
          <Text>
            The server cannot be reached. What you do stays in this window and is saved when it is back; it is asked
            again every two seconds.
          </Text>
        </>
      )}
    </HStack>
  );
}
