/** Chains that are begun on the page: they come to be on the server with the first thing that is done to them. */
import { useNavigate } from 'react-router';
import { ulid } from 'ulid';

/** Goes to the Bench with an empty chain that only this page knows of. */
export function useBeginChain(): (soundId?: string) => void {
  const navigate = useNavigate();
  return (soundId) =>
    void navigate(`/bench/${ulid()}${soundId === undefined ? '' : `?sound=${soundId}`}`, { state: { begun: true } });
}

/** Whether the address was come to by beginning a chain. */
export function isBegun(state: unknown): boolean {
  return typeof state === 'object' && state !== null && 'begun' in state;
}
