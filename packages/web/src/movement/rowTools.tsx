import { Box, IconButton, Menu } from '@chakra-ui/react';
import { MainPortal } from '../parts/MainPortal.tsx';
import { Ellipsis } from 'lucide-react';
import { createContext, useCallback, useContext, useMemo, useRef, useState, type ReactNode } from 'react';
import { isSynced } from '@hexenkessel/core/model';
import { BUILT_INS, MODULATORS, isScaled } from '@hexenkessel/core/stages';
import { driverOf, findTarget, type ChainDocument, edits, type ChainEdit } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { rowAction } from './rowKeys.ts';
import { uniqueTitle } from './RouteTable.tsx';
import { laneOpened } from '../chain/viewSlice.ts';
import { edit } from '../chain/edit.ts';

/** What can be done with a setting beside giving it a value. */
interface RowTools {
  /** Opens the menu of a setting beside an element. */
  readonly open: (target: string, beside: HTMLElement) => void;
  /** Does what a key stands for on a focused row; false when it stands for nothing. */
  readonly key: (key: string, target: string) => boolean;
}

const Tools = createContext<RowTools>({ open: () => undefined, key: () => false });

export const useRowTools = (): RowTools => useContext(Tools);

export function isTyping(target: EventTarget): boolean {
  return target instanceof HTMLInputElement && target.type === 'text';
}

/** The button at the end of a row. */
export function RowMenuButton({ label, target }: { readonly label: string; readonly target: string }) {
  const { open } = useRowTools();
  return (
    <IconButton
      aria-label={`More for ${label}`}
      aria-haspopup="menu"
      size="2xs"
      variant="ghost"
      color="faded"
      minWidth="24px"
      height="24px"
      onClick={(event) => open(target, event.currentTarget)}
    >
      <Ellipsis size={14} />
    </IconButton>
  );
}

/** One menu for all rows inside: a machine for each row would be work at every change. */
export function RowToolsProvider({ children }: { readonly children: ReactNode }) {
  const dispatch = useAppDispatch();
  const document = useAppSelector((state) => state.chain.present.document);
  const [target, setTarget] = useState<string>();
  const [open, setOpen] = useState(false);
  const beside = useRef<HTMLElement>(null);
  const latest = useRef(document);
  latest.current = document;

  const act = useCallback((step: ChainEdit) => dispatch(edit(step)), [dispatch]);
  const actions = useMemo(() => actionsOf(act, (name) => void dispatch(laneOpened(name))), [act, dispatch]);
  const tools = useMemo<RowTools>(
    () => ({
      open: (name, element) => {
        beside.current = element;
        setTarget(name);
        setOpen(true);
      },
      key: (key, name) => {
        const found = findTarget(BUILT_INS, latest.current, name);
        const action = rowAction(key);
        if (!found || !action) return false;
        if (action === 'sync' && found.param.type !== 'time' && found.param.type !== 'rate') return false;
        actions[action](latest.current, name);
        return true;
      },
    }),
    [actions],
  );
  const found = target === undefined ? undefined : findTarget(BUILT_INS, document, target);
  return (
    <Tools.Provider value={tools}>
      {children}
      <Menu.Root
        open={open}
        onOpenChange={(details) => {
          setOpen(details.open);
          // To the row that it was opened from, unless what was chosen takes the focus elsewhere.
          if (!details.open) requestAnimationFrame(() => focusBack(beside.current));
        }}
        positioning={{ placement: 'bottom-end', getAnchorRect: () => beside.current?.getBoundingClientRect() ?? null }}
      >
        <MainPortal>
          <Menu.Positioner>
            <Menu.Content bg="sheet" minWidth="220px" maxHeight="min(70vh, var(--available-height))">
              {found && <Items chain={document} target={found.target} actions={actions} act={act} />}
            </Menu.Content>
          </Menu.Positioner>
        </MainPortal>
      </Menu.Root>
    </Tools.Provider>
  );
}

function focusBack(element: HTMLElement | null): void {
  const { activeElement } = document;
  if (activeElement === null || activeElement === document.body || activeElement.closest('[role=menu]'))
    element?.focus({ preventScroll: true });
}

type Act = (step: ChainEdit) => boolean;

function actionsOf(act: Act, openLane: (target: string) => void) {
  return {
    pin: (chain: ChainDocument, target: string) =>
      act(driverOf(chain, target) ? edits.unpin(BUILT_INS, target) : edits.pin(BUILT_INS, target)),
    move: (_: ChainDocument, target: string) => act(edits.addModulator(BUILT_INS, 'lfo', target)),
    draw: (chain: ChainDocument, target: string) => {
      const there = chain.lanes.some((lane) => lane.target === target);
      if (there || act(edits.automate(BUILT_INS, target))) openLane(target);
    },
    lock: (_: ChainDocument, target: string) => act(edits.switchLock(BUILT_INS, target)),
    sync: (_: ChainDocument, target: string) => act(edits.switchSync(BUILT_INS, target)),
  };
}

/** The entries for one setting. */
function Items({
  chain,
  target,
  actions,
  act,
}: {
  readonly chain: ChainDocument;
  readonly target: string;
  readonly actions: ReturnType<typeof actionsOf>;
  readonly act: Act;
}) {
  const found = findTarget(BUILT_INS, chain, target);
  if (!found) return null;
  const { param, movable, value } = found;
  const driver = driverOf(chain, target);
  const drivable = isScaled(param) || param.type === 'choice' || param.type === 'toggle';
  const lane = chain.lanes.some((one) => one.target === target);
  const item = (name: string, text: string, key: string, run: () => void) => (
    <Menu.Item key={name} value={name} onClick={run}>
      <Box flex="1">{text}</Box>
      {key && <Menu.ItemCommand>{key}</Menu.ItemCommand>}
    </Menu.Item>
  );
  return (
    <>
      {(param.type === 'time' || param.type === 'rate') &&
        item('sync', isSynced(value) ? 'Tempo sync off' : 'Tempo sync on', 'T', () => actions.sync(chain, target))}
      {drivable && (
        <Menu.ItemGroup>
          <Menu.ItemGroupLabel>Panel</Menu.ItemGroupLabel>
          {driver
            ? item('pin', `Unpin from ${driver.control.name}`, 'P', () => actions.pin(chain, target))
            : item('pin', 'Pin to a new control', 'P', () => actions.pin(chain, target))}
          {!driver &&
            chain.panel.map(({ id, name }) =>
              item(`pin ${id}`, `Pin to ${name}`, '', () => act(edits.pin(BUILT_INS, target, id))),
            )}
        </Menu.ItemGroup>
      )}
      {movable && (
        <Menu.ItemGroup>
          <Menu.ItemGroupLabel>Modulation</Menu.ItemGroupLabel>
          {item('draw', lane ? 'Open automation lane' : 'Automate', 'O', () => actions.draw(chain, target))}
          {[...chain.modulators.filter(({ id }) => !target.startsWith(`${id}.`))].map((modulator) =>
            item(`by ${modulator.id}`, `Modulate with ${uniqueTitle(chain, modulator)}`, '', () =>
              act(edits.modulate(BUILT_INS, target, modulator.id)),
            ),
          )}
          {chain.panel.map(({ id, name }) =>
            item(`control ${id}`, `Modulate with the control ${name}`, '', () =>
              act(edits.modulate(BUILT_INS, target, id)),
            ),
          )}
          {MODULATORS.map(({ kind, title }) =>
            item(`new ${kind}`, `Modulate with a new ${title}`, kind === 'lfo' ? 'M' : '', () =>
              act(edits.addModulator(BUILT_INS, kind, target)),
            ),
          )}
        </Menu.ItemGroup>
      )}
      {drivable && (
        <Menu.ItemGroup>
          <Menu.ItemGroupLabel>Randomise</Menu.ItemGroupLabel>
          {item('lock', chain.locked.includes(target) ? 'Unlock' : 'Lock', 'K', () => actions.lock(chain, target))}
        </Menu.ItemGroup>
      )}
    </>
  );
}
