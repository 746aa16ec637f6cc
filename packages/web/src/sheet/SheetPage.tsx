import { Box, Heading, Stack, Table, Text } from '@chakra-ui/react';
import {
  cascadeSvg,
  notesToHtml,
  type Sheet,
  type SheetControl,
  type SheetModulator,
  type SheetStage,
} from '@hexenkessel/core/sheet';

/** A sheet as a page. */
export function SheetPage({ sheet }: { sheet: Sheet }) {
  return (
    <Stack as="article" maxWidth="60rem" mx="auto" px={{ base: '3', md: '6' }} py="6" gap="4">
      <Heading as="h1" size="3xl">
        {sheet.title}
      </Heading>
      {sheet.summary && <Text fontSize="lg">{sheet.summary}</Text>}
      <Box
        as="dl"
        display="grid"
        gridTemplateColumns={{ base: 'minmax(5rem, max-content) 1fr', md: 'max-content 1fr' }}
        columnGap="4"
      >
        {sheet.facts.map(([label, value]) => (
          <Box key={label} display="contents">
            <Text as="dt" color="faded">
              {label}
            </Text>
            <Text as="dd">{value}</Text>
          </Box>
        ))}
      </Box>
      <Title text="Cascade" />
      {sheet.rows.length > 0 ? (
        // Made by the core from numbers and escaped titles.
        <Box
          borderWidth="1px"
          borderColor="rule"
          css={{ '& svg': { width: '100%', height: 'auto' } }}
          dangerouslySetInnerHTML={{ __html: cascadeSvg(sheet.rows, sheet.timing) }}
        />
      ) : (
        <Text color="faded">Being rendered …</Text>
      )}
      {sheet.controls.length > 0 && <Title text="Panel" />}
      {sheet.controls.map((control) => (
        <ControlSection key={control.name} control={control} />
      ))}
      <Title text="Stages" />
      {sheet.stages.length === 0 && <Text color="faded">The chain has no stages yet.</Text>}
      {sheet.stages.map((stage) => (
        <StageSection key={stage.number} stage={stage} />
      ))}
      {sheet.modulators.length > 0 && <Title text="Modulation" />}
      {sheet.modulators.map((modulator, n) => (
        <ModulatorSection key={n} modulator={modulator} />
      ))}
      {sheet.lanes.length > 0 && (
        <>
          <Title text="Automation" />
          <Lines lines={sheet.lanes} />
        </>
      )}
      <Title text="Tempo" />
      <Text>{sheet.tempo}</Text>
      <Title text="Render" />
      <Text>{sheet.render}</Text>
      {sheet.notes.trim() !== '' && (
        <>
          <Title text="Notes" />
          <Box
            css={{
              '& p, & ul, & ol': { marginBottom: '0.6em' },
              '& ul, & ol': { paddingInlineStart: '1.4em', listStyle: 'revert' },
            }}
            dangerouslySetInnerHTML={{ __html: notesToHtml(sheet.notes) }}
          />
        </>
      )}
    </Stack>
  );
}

function Title({ text }: { text: string }) {
  return (
    <Heading as="h2" size="xl" borderBottomWidth="1px" borderColor="rule" mt="4">
      {text}
    </Heading>
  );
}

function Lines({ lines }: { readonly lines: readonly string[] }) {
  return (
    <Box as="ul" ps="5" css={{ listStyle: 'disc' }}>
      {lines.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </Box>
  );
}

function ControlSection({ control: { name, group, value, range, drives, note } }: { readonly control: SheetControl }) {
  return (
    <Box as="section">
      <Heading as="h3" size="lg">
        {group ? `${group}: ` : ''}
        {name}
      </Heading>
      <Text>
        {note} Range: {range}. Value: {value}.
      </Text>
      <Lines lines={drives} />
    </Box>
  );
}

function ModulatorSection({
  modulator: { title, summary, on, note, settings, moves },
}: {
  readonly modulator: SheetModulator;
}) {
  return (
    <Box as="section" opacity={on ? 1 : 0.65}>
      <Heading as="h3" size="lg">
        {title}
        {!on && ' – off'}
      </Heading>
      <Text>{summary}</Text>
      {note && (
        <Text as="blockquote" borderLeftWidth="3px" borderColor="copper" pl="3" my="2">
          {note}
        </Text>
      )}
      <Text color="faded">Settings: {settings.join(', ')}.</Text>
      <Lines lines={moves} />
    </Box>
  );
}

function StageSection({ stage }: { stage: SheetStage }) {
  return (
    <Box as="section" opacity={stage.on ? 1 : 0.65}>
      <Heading as="h3" size="lg">
        {stage.number}. {stage.title}
        {stage.original && ` (${stage.original})`}
        {stage.branch && `, in ${stage.branch}`}
        {!stage.on && ' – bypassed'}
      </Heading>
      <Text>
        <em>{stage.family}</em> – {stage.summary}
      </Text>
      {stage.note && (
        <Text as="blockquote" borderLeftWidth="3px" borderColor="copper" pl="3" my="2">
          {stage.note}
        </Text>
      )}
      {stage.settings.length > 0 && (
        <Box overflowX="auto">
          <Table.Root size="sm" variant="line" mt="2">
            <Table.Body>
              {stage.settings.map(({ label, value, also, doc }) => (
                <Table.Row key={label} bg="transparent">
                  <Table.Cell fontWeight="600" whiteSpace="nowrap">
                    {label}
                  </Table.Cell>
                  <Table.Cell fontFamily="mono" whiteSpace="nowrap">
                    {value}
                  </Table.Cell>
                  <Table.Cell fontFamily="mono" whiteSpace="nowrap" color="faded">
                    {also}
                  </Table.Cell>
                  <Table.Cell>{doc}</Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Box>
      )}
    </Box>
  );
}
