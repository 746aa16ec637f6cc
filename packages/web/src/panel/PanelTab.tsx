import { Box, Heading, Stack, Text } from '@chakra-ui/react';
import { Pencil } from 'lucide-react';
import { useState } from 'react';
import type { ControlDocument } from '@hexenkessel/core/chain';
import { useShown } from '../chain/shownChain.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { ControlEditor } from './ControlEditor.tsx';
import { ControlRow } from './ControlRow.tsx';

/** Controls in their groups, in the order of the panel. */
export function groupsOf(panel: readonly ControlDocument[]): [string, ControlDocument[]][] {
  const groups = new Map<string, ControlDocument[]>();
  for (const control of panel) groups.set(control.group, [...(groups.get(control.group) ?? []), control]);
  return [...groups];
}

/** The panel as its users have it, and, behind a pencil, how each control is made. */
export function PanelTab() {
  const [edited, setEdited] = useState<string>();
  const document = useShown((chain) => chain);
  const { panel } = document;
  return (
    <Stack gap="2" height="100%" minHeight="0">
      <Text fontSize="sm" color="faded">
        {panel.length === 0
          ? 'The panel is what users of this chain get: a few controls, each driving one or more settings. Drag a parameter of a stage by its name onto the strip below the Cascade, press P on its row, or choose “Pin to a new control” behind its three dots.'
          : 'As users of this chain have it. The pencil shows how a control is made.'}
      </Text>
      <Box overflowY="auto" flex="1" minHeight="0" pr="1">
        {groupsOf(panel).map(([group, controls]) => (
          <Box key={group} mb="2">
            {group && (
              <Heading as="h2" size="xs" borderBottomWidth="1px" borderColor="rule" mb="1">
                {group}
              </Heading>
            )}
            {controls.map((control) => (
              <Box key={control.id}>
                <Box display="grid" gridTemplateColumns="1fr 26px" alignItems="center">
                  <ControlRow control={control} />
                  <IconAction
                    label={`How ${control.name} is made`}
                    aria-expanded={edited === control.id}
                    minWidth="24px"
                    height="24px"
                    onClick={() => setEdited(edited === control.id ? undefined : control.id)}
                  >
                    <Pencil size={13} />
                  </IconAction>
                </Box>
                {control.note && edited !== control.id && (
                  <Text fontSize="xs" color="faded" pb="1">
                    {control.note}
                  </Text>
                )}
                {edited === control.id && <ControlEditor control={control} chain={document} />}
              </Box>
            ))}
          </Box>
        ))}
      </Box>
    </Stack>
  );
}
