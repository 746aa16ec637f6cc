import { useEffect, useRef } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tabShown } from '../chain/viewSlice.ts';
import { useKeptInAddress } from '../parts/useKeptInAddress.ts';
import { BENCH_TABS } from './benchTabs.ts';

/** The tab that is shown stands in the address: a link to it opens it. The first one does not stand there. */
export function useTabInAddress(): void {
  const dispatch = useAppDispatch();
  const tab = useAppSelector((state) => state.view.tab);
  const [asked, keep] = useKeptInAddress('tab');
  const first = useRef(true);
  useEffect(() => {
    if (first.current) {
      first.current = false;
      const found = BENCH_TABS.find(({ id }) => id === asked);
      if (found && found.id !== tab) {
        dispatch(tabShown(found.id));
        return;
      }
    }
    const told = tab === BENCH_TABS[0].id ? '' : tab;
    if (told !== asked) keep(told);
  }, [tab, asked, keep, dispatch]);
}
