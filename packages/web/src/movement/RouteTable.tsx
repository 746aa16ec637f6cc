import { Box, Heading, Input, Switch, Table, VisuallyHidden } from '@chakra-ui/react';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { parseNumber, parseRatio, parseTime, printTime } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import {
  findTarget,
  modulatorTitle,
  type ChainDocument,
  type ModulatorDocument,
  type Route,
  edits,
} from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { edit } from '../chain/edit.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { Choice } from '../parts/Choice.tsx';
import { IconAction } from '../parts/IconAction.tsx';

type Column = 'from' | 'to' | 'depth';

interface Line {
  readonly route: Route;
  readonly from: string;
  readonly to: string;
}

/** What a modulator goes by, with its id where another goes by the same. */
export function uniqueTitle({ modulators }: ChainDocument, modulator: ModulatorDocument): string {
  const title = modulatorTitle(modulator);
  return modulators.some((other) => other !== modulator && modulatorTitle(other) === title)
    ? `${title} (${modulator.id})`
    : title;
}

/** All routes: what moves what, and by how much. Searched by words, sorted by a column. */
export function RouteTable({ document }: { readonly document: ChainDocument }) {
  const [wanted, setWanted] = useState('');
  const [order, setOrder] = useState<{ column: Column; down: boolean }>({ column: 'from', down: false });
  const lines = useMemo(() => {
    const named = document.routes.map((route): Line => {
      const modulator = document.modulators.find(({ id }) => id === route.from);
      const control = document.panel.find(({ id }) => id === route.from);
      const target = findTarget(BUILT_INS, document, route.to);
      return {
        route,
        from: modulator ? uniqueTitle(document, modulator) : (control?.name ?? route.from),
        to: target ? `${target.owner}, ${target.label}` : route.to,
      };
    });
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    const found = named.filter(({ from, to }) => words.every((word) => `${from} ${to}`.toLowerCase().includes(word)));
    const value = ({ route, from, to }: Line) => ({ from, to, depth: route.depth })[order.column];
    const sorted = found.sort((a, b) => (value(a) < value(b) ? -1 : value(a) > value(b) ? 1 : 0));
    return order.down ? sorted.reverse() : sorted;
  }, [document, wanted, order]);
  const head = (column: Column, text: string) => (
    <Table.ColumnHeader px="1" aria-sort={order.column !== column ? 'none' : order.down ? 'descending' : 'ascending'}>
      <Box
        as="button"
        fontSize="xs"
        display="inline-flex"
        alignItems="center"
        minHeight="24px"
        onClick={() => setOrder({ column, down: order.column === column && !order.down })}
      >
        {text}
        {order.column === column && (order.down ? <ArrowDown size={11} /> : <ArrowUp size={11} />)}
      </Box>
    </Table.ColumnHeader>
  );
  return (
    <Box mt="2">
      <Box display="grid" gridTemplateColumns="64px 1fr" alignItems="center" mb="1">
        <Heading as="h2" size="xs">
          Routes
        </Heading>
        <Input
          aria-label="Find routes"
          placeholder="find by source or target"
          size="xs"
          height="26px"
          value={wanted}
          onChange={(event) => setWanted(event.currentTarget.value)}
          onKeyDown={(event) => event.stopPropagation()}
        />
      </Box>
      <Table.Root size="sm" fontSize="xs" css={{ '& td, & th': { paddingBlock: '2px', background: 'transparent' } }}>
        <Table.Header>
          <Table.Row bg="transparent">
            {head('from', 'source')}
            {head('to', 'target')}
            {head('depth', 'depth')}
            <Table.ColumnHeader px="1" fontSize="xs">
              polarity
            </Table.ColumnHeader>
            <Table.ColumnHeader px="0">
              <VisuallyHidden>remove</VisuallyHidden>
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {lines.map((line) => (
            <RouteLine key={line.route.id} line={line} />
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}

function RouteLine({ line: { route, from, to } }: { readonly line: Line }) {
  const dispatch = useAppDispatch();
  const change = (part: Partial<Route>) => dispatch(edit(edits.changeRoute(BUILT_INS, route.id, part)));
  return (
    <Table.Row bg="transparent" opacity={route.on ? 1 : 0.55} data-route={route.id}>
      <Table.Cell px="1" maxWidth="92px" truncate title={from}>
        {from}
      </Table.Cell>
      <Table.Cell px="1" maxWidth="104px" truncate title={to}>
        {to}
      </Table.Cell>
      <Table.Cell px="1" width="58px">
        <TypedValue
          label={`Depth of ${from} on ${to}`}
          text={`${Number((100 * route.depth).toFixed(1))} %`}
          textAlign="end"
          onCommit={(text) => change({ depth: parseRatio(text) })}
        />
      </Table.Cell>
      <Table.Cell px="1">
        <Choice
          label={`Polarity of ${from} on ${to}`}
          value={route.polarity}
          options={[
            ['both', 'bipolar'],
            ['up', 'unipolar'],
          ]}
          width="86px"
          onChange={(polarity) => change({ polarity })}
        />
        <Box display="flex" alignItems="center" color="faded">
          curve
          <TypedValue
            label={`Curve of ${from} on ${to}`}
            text={String(route.bend)}
            width="34px"
            textAlign="end"
            onCommit={(text) => change({ bend: parseNumber(text) })}
          />
          smoothing
          <TypedValue
            label={`Smoothing of ${from} on ${to}`}
            text={printTime(route.smoothing)}
            width="52px"
            textAlign="end"
            onCommit={(text) => change({ smoothing: parseTime(text) })}
          />
        </Box>
      </Table.Cell>
      <Table.Cell px="0" width="50px">
        <Box display="flex" alignItems="center">
          <Switch.Root size="xs" checked={route.on} onCheckedChange={({ checked }) => change({ on: checked })}>
            <Switch.HiddenInput aria-label={`Route of ${from} on ${to} switched on`} />
            <Switch.Control />
          </Switch.Root>
          <IconAction
            label={`Remove the route of ${from} on ${to}`}
            minWidth="24px"
            height="24px"
            onClick={() => dispatch(edit(edits.removeRoute(BUILT_INS, route.id)))}
          >
            <X size={12} />
          </IconAction>
        </Box>
      </Table.Cell>
    </Table.Row>
  );
}
