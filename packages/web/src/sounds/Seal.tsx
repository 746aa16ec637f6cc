import { Button, Switch, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { PlainDialog } from '../parts/PlainDialog.tsx';

/** Whether a render is final. To seal it is asked for, with what it means; to unseal it is not. */
export function Seal({ sealed, onSeal }: { readonly sealed: boolean; readonly onSeal: (sealed: boolean) => void }) {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Switch.Root
        size="sm"
        checked={sealed}
        onCheckedChange={({ checked }) => (checked ? setAsking(true) : onSeal(false))}
      >
        <Switch.HiddenInput />
        <Switch.Control />
        <Switch.Label fontSize="sm">
          {sealed ? 'sealed: final, still naming its origin' : 'not sealed: follows its chain'}
        </Switch.Label>
      </Switch.Root>
      {asking && (
        <PlainDialog
          title="Seal this render?"
          size="xs"
          onClose={() => setAsking(false)}
          footer={
            <Button
              colorPalette="copperInk"
              size="sm"
              onClick={() => {
                onSeal(true);
                setAsking(false);
              }}
            >
              Seal it
            </Button>
          }
        >
          <Text>
            A sealed render is final: it is not rendered again when its chain changes, and is not offered for cleaning
            up. It still names the source and the chain it was made of. It can be unsealed here at any time.
          </Text>
        </PlainDialog>
      )}
    </>
  );
}
