import { Button } from '@chakra-ui/react';
import { useRef } from 'react';
import { tappedTempo } from '@hexenkessel/core/model';

/** A button to be tapped in time. */
export function Tap({ onTempo }: { readonly onTempo: (tempo: number) => void }) {
  const times = useRef<number[]>([]);
  return (
    <Button
      size="2xs"
      variant="outline"
      borderColor="rule"
      onClick={() => {
        times.current = [...times.current.slice(-16), performance.now()];
        const tempo = tappedTempo(times.current);
        if (tempo !== undefined && times.current.length > 2) onTempo(tempo);
      }}
    >
      tap
    </Button>
  );
}
